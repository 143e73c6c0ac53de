// Sends what was done on this phone, in order, whenever there is a network. What is refused stays, with its reason.
import * as store from "./store.js";

const EVERY_MS = 20000;
const PATIENCE_MS = 15000;
let sending;

/** Who holds the phone, as the server's page says it; what was left when no server answers. */
export async function holder() {
  const { person, role, units } = document.body.dataset;
  return person
    ? { person, role, units, language: document.documentElement.lang }
    : {
        person: await store.meta("person"),
        role: await store.meta("role"),
        units: await store.meta("units"),
        language: await store.meta("language"),
      };
}

const waits = (row) => !row.sent;

/** Shows how much waits, on every page. */
export async function show() {
  const sign = document.getElementById("outbox");
  if (!sign) return;
  const rows = (await store.outbox()).filter(waits);
  const refused = rows.filter((x) => x.refused).length;
  sign.hidden = rows.length === 0;
  const words = sign.dataset;
  sign.textContent = [
    rows.length > refused ? (rows.length - refused === 1 ? words.one : words.other.replace("{0}", rows.length - refused)) : "",
    refused ? words.notTaken.replace("{0}", refused) : "",
  ]
    .filter(Boolean)
    .join(" · ");
  sign.dataset.waiting = rows.length;
}

/** Sends one entry. */
async function send(row) {
  const form = new FormData();
  form.append("entry", JSON.stringify(row.entry));
  for (const photo of row.photos ?? []) form.append("photo", photo, "photo");
  const answer = await fetch("/phone/entries", {
    method: "POST",
    body: form,
    headers: { "X-Nippers-Phone": "1" },
    redirect: "error",
    signal: AbortSignal.timeout(PATIENCE_MS),
  });
  if (answer.status === 401) return "signedOut";
  if (answer.ok) {
    const { walk } = await answer.json();
    await store.putEntry({ ...row, sent: true, busy: false, refused: null, walkId: walk ?? row.walkId });
    return "sent";
  }
  if (answer.status === 422 || answer.status === 400 || answer.status === 413) {
    const refused = answer.status === 422 ? (await answer.json()).refused : [String(answer.status)];
    await store.putEntry({ ...row, busy: false, refused });
    return "refused";
  }
  throw new Error(`answered ${answer.status}`);
}

/** Empties the outbox as far as it goes. */
async function flush() {
  const who = await holder();
  const done = { sent: 0, refused: 0, left: 0, signedOut: false };
  const stuck = new Set();
  for (const row of await store.outbox()) {
    if (!waits(row) || row.refused || row.busy) {
      // What follows a refused beginning of a walk could not be taken either.
      if (row.refused && row.entry.kind === "start") stuck.add(row.entry.walk);
      continue;
    }
    // Nobody sends what another did, and it keeps nobody waiting.
    if (row.person !== who.person) continue;
    if (stuck.has(row.entry.walk)) {
      done.left++;
      continue;
    }
    const came = await send(row);
    if (came === "signedOut") {
      done.signedOut = true;
      break;
    }
    done[came]++;
    if (came === "refused" && row.entry.kind === "start") stuck.add(row.entry.walk);
  }
  return done;
}

/** Empties the outbox; one at a time, also with several pages open. */
export function sendAll() {
  const work = () => navigator.locks.request("nippers-outbox", flush);
  sending ??= work()
    .catch(() => null)
    .finally(() => {
      sending = null;
      return show();
    });
  return sending;
}

/** Keeps at it while the page is open. */
export function keepSending(after) {
  const turn = async () => {
    const rows = (await store.outbox()).filter((x) => waits(x) && !x.refused && !x.busy);
    if (rows.length === 0 || !navigator.onLine) return;
    const done = await sendAll();
    if (done) await after(done);
  };
  window.addEventListener("online", turn);
  setInterval(turn, EVERY_MS);
  navigator.serviceWorker?.addEventListener("message", (event) => event.data === "outbox" && turn());
  return turn;
}
