// The page that opens where there is no network: filled from what the phone holds.
import * as store from "./store.js";
import { ask } from "./rules.js";
import { sendAll, show } from "./outbox.js";

const root = () => document.getElementById("phone-root");

function fill(html) {
  root().innerHTML = html;
  htmx.process(root());
}

/** The empty page is kept once for everybody, in the language of who came first: it says what it says to whoever holds the phone now. */
export function say(language) {
  const words = JSON.parse(document.getElementById("shell-words").textContent)[language];
  if (!words) return;
  document.documentElement.lang = language;
  document.title = `${words["Phone.Title"]} · Nippers`;
  for (const place of document.querySelectorAll("[data-word]")) place.textContent = words[place.dataset.word];
  Object.assign(document.getElementById("outbox").dataset, {
    one: words["Outbox.One"], other: words["Outbox.Other"], notTaken: words["Outbox.Refused"], leave: words["Outbox.Leave"],
  });
  document.body.dataset.lost = words["Lost.Network"];
}

/** What a list of machines needs of one. */
const brief = ({ readings, firstReading, own, lately, done, last, card, ...rest }) => rest;

/** Steps of a machine's job card that were answered here and that the server's state of it has not. */
export const stepsOf = async (unit) =>
  (await store.outbox())
    .filter((x) => x.entry.kind === "step" && x.entry.unit === unit && !x.refused)
    .sort((a, b) => a.seq - b.seq)
    .map((x) => x.entry);

async function outboxPage(request) {
  const rows = (await store.outbox()).filter((x) => !x.sent);
  const reply = await ask(
    await request("outbox", {
      entries: rows.map((x) => x.entry),
      reasons: rows.map((x) => (x.refused ?? []).join(" ")),
    }),
  );
  fill(reply.html);
  root().addEventListener("click", async (event) => {
    const button = event.target instanceof Element && event.target.closest("[data-again], [data-throw]");
    if (!button) return;
    const seq = Number(button.dataset.again ?? button.dataset.throw);
    const row = rows.find((x) => x.seq === seq);
    if (button.dataset.throw !== undefined) {
      if (!confirm(button.dataset.sure)) return;
      await store.dropEntry(seq);
    } else {
      await store.putEntry({ ...row, refused: null });
      await sendAll();
    }
    await show();
    await outboxPage(request);
  }, { once: true });
}

/** Opens what the address asks for. Gives the walk that stands on the page; null for none. */
export async function openShell(request) {
  const path = location.pathname;
  if (location.hash === "#outbox") {
    await outboxPage(request);
    return null;
  }
  const unit = decodeURIComponent(path.match(/^\/(?:walk|machines)\/([^/]+)/)?.[1] ?? "");
  const machine = unit ? await store.machine(unit) : null;
  if (machine && path.startsWith("/walk/")) {
    fill((await ask(await request("start", { machine, list: await store.list(machine.list) }))).html);
    return null;
  }
  if (machine) {
    fill((await ask(await request("machine", { machine, list: await store.list(machine.list) }))).html);
    return null;
  }
  const visit = Number(path.match(/^\/visits\/(\d+)/)?.[1]);
  // A phone goes from hand to hand, and holds what it was given in another's: a card is worked by who may work on machines.
  const works = ["technician", "planner"].includes(await store.meta("role"));
  const worked = visit && works ? (await store.machines()).find((x) => x.card?.visit === visit) : null;
  if (worked) {
    const step = decodeURIComponent(path.match(/\/steps\/(.+)$/)?.[1] ?? "");
    fill((await ask(await request("card", { machine: worked, entries: await stepsOf(worked.unit), step }))).html);
    return null;
  }
  const id = Number(path.match(/^\/walks\/(-?\d+)/)?.[1]);
  const walk = id ? await store.walkById(id) : null;
  if (walk) {
    const rows = (await store.entriesOf(walk.batch)).filter((x) => !x.refused).sort((a, b) => a.seq - b.seq);
    fill(
      (
        await ask(
          await request("page", {
            walk,
            list: await store.list(walk.version),
            lastList: await store.list(walk.machine.last?.version),
            entries: rows.map((x) => x.entry),
          }),
        )
      ).html,
    );
    return walk.batch;
  }
  fill((await ask(await request("home", { machines: (await store.machines()).map(brief) }))).html);
  return null;
}
