// Walks, hours and defects where there is no network. The server's pages stay what they are while it answers; what is done on the
// page of a walk is in the phone's database before the screen says so, and when nothing answers the same rules and the same parts,
// compiled for the browser, show what the server would have shown.
import * as store from "./store.js";
import { ask, rules } from "./rules.js";
import { holder, keepSending, sendAll, show } from "./outbox.js";
import { openShell, say, stepsOf } from "./shell.js";

const KIT_MS = 5 * 60 * 1000;
const PATIENCE_MS = 6000;

// What a phone fetches for later does not compete with the page that somebody waits for.
const LATER_MS = 3000;
const later = () => new Promise((done) => setTimeout(done, LATER_MS));
const tab = crypto.randomUUID();
const waiting = new WeakMap();
const key = () => crypto.randomUUID().replaceAll("-", "");

let offline = false;
let batch = null;
let ready = Promise.resolve();

const shell = () => document.body.dataset.phone === "shell";

/** Fetches what the phone holds, and sets its clock against the server's. */
async function fetchJson(path) {
  const answer = await fetch(path, { signal: AbortSignal.timeout(PATIENCE_MS * 5), redirect: "error" });
  if (!answer.ok) throw new Error(`${path} answered ${answer.status}`);
  const now = Number(answer.headers.get("X-Nippers-Now"));
  if (now) await store.setMeta("ahead", Date.now() - now);
  return answer.json();
}

async function refreshKit() {
  if (Date.now() - ((await store.meta("kitAt")) ?? 0) >= KIT_MS) await store.putKit(await fetchJson("/phone/kit"));
  document.documentElement.dataset.kit = "ready";
}

/** Takes the server's state of the walk on the page; what it has of this phone's entries need not be kept any more. */
async function adopt(id) {
  const sent = (await store.outbox()).filter((x) => x.sent).map((x) => x.seq);
  const state = await fetchJson(`/phone/walks/${id}`);
  const mine = new Set((await store.entriesOf(state.walk.batch)).map((x) => x.seq));
  await store.putWalk(state, sent.filter((x) => mine.has(x)));
  batch = state.walk.batch;
  document.documentElement.dataset.walk = "ready";
}

/** Takes the server's state of the job card on the page. */
async function adoptCard(id, unit) {
  await store.putCard(unit, await fetchJson(`/phone/cards/${id}`));
  document.documentElement.dataset.card = "ready";
}

/** The request of a page as the rules on the phone are asked. */
export async function request(asks, more) {
  const who = await holder();
  return {
    ...who,
    phoneNow: new Date().toISOString(),
    aheadMs: Math.round((await store.meta("ahead")) ?? 0),
    phrases: (await store.meta("phrases")) ?? [],
    asks,
    fields: {},
    ...more,
  };
}

/** The walk on the page as the phone has it. */
async function known(without) {
  const walk = await store.walk(batch);
  if (!walk) return null;
  const entries = (await store.entriesOf(batch)).filter((x) => x.seq !== without && !x.refused);
  return {
    walk,
    list: await store.list(walk.version),
    lastList: await store.list(walk.machine.last?.version),
    entries: entries.sort((a, b) => a.seq - b.seq).map((x) => x.entry),
  };
}

function fieldsOf(form, submitter) {
  const fields = {};
  const photos = [];
  for (const [name, value] of new FormData(form, submitter)) {
    if (name.startsWith("__")) continue;
    if (value instanceof File) {
      if (value.size > 0) photos.push(value);
    } else (fields[name] ??= []).push(value);
  }
  return { fields, photos };
}

/** What a request of the page of a walk asks. */
function read(detail) {
  const url = new URL(detail.path, location.href);
  const step = decodeURIComponent(url.pathname.match(/\/at\/(.+)$/)?.[1] ?? "");
  if (detail.verb === "get")
    return url.pathname.endsWith("/end")
      ? { asks: "end", step, fields: {}, photos: [] }
      : { asks: "edit", step, fields: { edit: [url.searchParams.get("edit")] }, photos: [] };
  return { asks: url.searchParams.get("handler"), step, ...fieldsOf(detail.elt, detail.triggeringEvent?.submitter) };
}

/** Answers on the phone, and keeps what was done. */
async function answerHere(asked, elt, row) {
  const state = await known(row?.seq);
  if (!state) return false;
  const seq = row?.seq ?? (await store.nextSeq());
  const entryKey = row?.entry.key ?? asked.fields.key?.[0] ?? key();
  const reply = await ask(await request(asked.asks, { ...state, step: asked.step, fields: asked.fields, key: entryKey, seq }));
  if (reply.entry) await store.putEntry({ seq, entry: reply.entry, photos: asked.photos, person: (await holder()).person });
  else if (row) await store.dropEntry(row.seq);
  await show();
  if (reply.finished) return finishedHere(reply);
  const target = reply.target ? document.querySelector(reply.target) : targetOf(elt);
  htmx.swap(target, reply.html, { swapStyle: asked.asks === "end" ? "innerHTML" : "outerHTML", swapDelay: 0, settleDelay: 20 }, {
    eventInfo: { elt: target, target },
  });
  return true;
}

const targetOf = (elt) => document.querySelector(elt.closest("[hx-target]")?.getAttribute("hx-target") ?? "#walk-steps");

/** The walk was signed off here: its page says what it may say, and that it waits to be sent. */
async function finishedHere(reply) {
  const main = document.getElementById("main");
  main.innerHTML = reply.html;
  main.focus();
  navigator.serviceWorker.ready.then((x) => x.sync?.register("outbox")).catch(() => {});
  return true;
}

/** Everything that was done here before must be with the server before it is asked anything new. */
async function caughtUp() {
  if (offline || !navigator.onLine) return false;
  const left = (await store.entriesOf(batch)).filter((x) => !x.sent && !x.busy && !x.refused);
  if (left.length === 0) return true;
  const done = await sendAll();
  if (done === null) offline = true;
  return done !== null && !done.signedOut && done.left === 0 && (await store.entriesOf(batch)).every((x) => x.sent || x.busy || x.refused);
}

async function onConfirm(event) {
  const { elt } = event.detail;
  if (!(elt instanceof Element) || !elt.closest("#walk-steps, #walk-end")) return;
  event.preventDefault();
  const asked = read(event.detail);
  await ready;
  if (!batch) return event.detail.issueRequest(true);
  if (!(await caughtUp())) {
    if (!(await answerHere(asked, elt))) event.detail.issueRequest(true);
    return;
  }
  let row = null;
  if (event.detail.verb !== "get") {
    const walk = await store.walk(batch);
    const entry = {
      key: asked.fields.key?.[0] ?? key(),
      seq: await store.nextSeq(),
      kind: asked.asks,
      unit: walk.machine.unit,
      walk: batch,
      step: asked.step,
      at: new Date().toISOString(),
      aheadMs: Math.round((await store.meta("ahead")) ?? 0),
      units: (await holder()).units,
      fields: asked.fields,
    };
    row = { seq: entry.seq, entry, photos: asked.photos, person: (await holder()).person, busy: tab };
    await store.putEntry(row);
  }
  waiting.set(elt, { asked, row });
  event.detail.issueRequest(true);
}

function onConfig(event) {
  const wait = waiting.get(event.detail.elt);
  if (!wait) return;
  waiting.delete(event.detail.elt);

  // The request is known again by its settings: the form that sent it may be gone when it is answered.
  waiting.set(event.detail, { ...wait, elt: event.detail.elt });
  event.detail.timeout = PATIENCE_MS;
  if (wait.row) event.detail.headers["X-Nippers-Key"] = wait.row.entry.key;
}

/** A session that ended is answered with who asks who it is, which is no answer: what was sent is not with the server. */
function ledAway(xhr) {
  return xhr?.status === 401 || (xhr?.responseURL ? new URL(xhr.responseURL).pathname.startsWith("/sign-in") : false);
}

/** A page that holds what was sent, in place of this one. A stop too is answered for another part of the page, and must be seen. */
const isHeld = (xhr) => xhr?.status === 400 && xhr.getResponseHeader("HX-Retarget") === "body";

function onBeforeSwap(event) {
  const { xhr, requestConfig } = event.detail;
  if (waiting.has(requestConfig) && (ledAway(xhr) || isHeld(xhr))) event.detail.shouldSwap = false;
}

async function onAnswered(event) {
  const { xhr, requestConfig } = event.detail;
  const wait = requestConfig && waiting.get(requestConfig);
  if (!wait) return;
  waiting.delete(requestConfig);
  const status = xhr?.status ?? 0;
  if (ledAway(xhr)) {
    document.documentElement.setAttribute("data-signed-out", "");
    offline = true;
    await answerHere(wait.asked, wait.elt, wait.row);
  } else if (status >= 200 && status < 300) {
    if (wait.row) await store.putEntry({ ...wait.row, sent: true, busy: false });
  } else if (status === 422 || status === 409) {
    // Refused, and said so on the screen. Any other fault is not the person's, and what they did stays in the outbox.
    if (wait.row) await store.dropEntry(wait.row.seq);
  } else {
    offline = true;
    await answerHere(wait.asked, wait.elt, wait.row);
  }
}

/** Whether the server answers at once. */
async function reaches() {
  if (!navigator.onLine) return false;
  try {
    return (await fetch("/phone", { method: "HEAD", cache: "no-store", signal: AbortSignal.timeout(PATIENCE_MS / 2) })).ok;
  } catch {
    return false;
  }
}

/** Forms that lead to another page: a walk's beginning and end, who was told. They go to the server while it answers. */
async function onSubmit(event) {
  const form = event.target;
  if (!(form instanceof HTMLFormElement) || form.dataset.through) return;
  const kind =
    "signOff" in form.dataset ? "finish"
    : "begin" in form.dataset ? "begin"
    : "phone" in form.dataset ? form.dataset.phone
    : form.closest("#walk-steps") && form.action.includes("handler=told") ? "told"
    : null;
  if (!kind) return;
  event.preventDefault();
  const { submitter } = event;
  const asked = { asks: kind, step: "", ...fieldsOf(form, submitter) };
  await ready;
  const local = shell() || (kind === "told" && form.action.includes("/defects/-"));
  if (!local && kind === "step" && (await stepsOf(form.dataset.unit)).length > 0) await sendAll();
  const served = !local && (kind === "begin" ? await reaches() : (!batch || (await caughtUp())) && (await reaches()));
  if (served) {
    form.dataset.through = "yes";
    return form.requestSubmit(submitter ?? undefined);
  }

  // What the phone does not hold it can't answer: the browser then says itself that there is no network.
  const through = () => {
    form.dataset.through = "yes";
    form.requestSubmit(submitter ?? undefined);
  };
  if (kind === "step") return (await keepStep(form, asked)) || through();
  if (kind === "begin") return (await begin(form, asked)) || through();
  if (kind === "told") asked.fields.defect = [form.action.match(/\/defects\/(-?\d+)/)[1]];
  if (["hours", "defect", "topUp", "evening"].includes(kind)) return keepOne(form, asked);
  if (!batch) return through();
  asked.step = form.closest("[data-at]")?.dataset.at ?? "";
  asked.fields.check ??= [form.closest("[data-check]")?.dataset.check ?? ""];
  offline = true;
  const elt = kind === "finish" ? document.getElementById("walk-end") : form.closest("[data-check]");
  if (kind !== "finish") elt.setAttribute("hx-target", `#${elt.id}`);
  const state = await known();
  if (!state) return;
  const seq = await store.nextSeq();
  const reply = await ask(await request(kind, { ...state, step: asked.step, fields: asked.fields, key: key(), seq }));
  if (reply.entry) await store.putEntry({ seq, entry: reply.entry, photos: [], person: (await holder()).person });
  await show();
  if (reply.finished) return finishedHere(reply);
  htmx.swap(elt, reply.html, { swapStyle: kind === "finish" ? "innerHTML" : "outerHTML", swapDelay: 0, settleDelay: 20 }, {
    eventInfo: { elt, target: elt },
  });
}

/** Begins a walk that the server will know later. */
async function begin(form, asked) {
  const unit = decodeURIComponent(location.pathname.split("/").at(-1));
  const machine = await store.machine(unit);
  if (!machine) return false;
  const seq = await store.nextSeq();
  const list = await store.list(machine.list);
  const reply = await ask(await request("begin", { machine, list, fields: asked.fields, key: key(), seq }));
  if (!reply.walk) {
    const holds = document.getElementById("phone-root") ?? form.parentElement;
    form.outerHTML = reply.html;
    htmx.process(holds);
    holds.querySelector("[aria-invalid=true]")?.focus();
    return true;
  }
  await store.putBegun(reply.walk, { seq, entry: reply.entry, photos: [], person: (await holder()).person });
  location.assign(`/walks/${reply.walk.id}`);
  return true;
}

/** Hours, a defect or a top-up outside a walk. */
async function keepOne(form, asked) {
  const machine = await store.machine(form.dataset.unit);
  const seq = await store.nextSeq();
  const list = await store.list(machine.list);
  const reply = await ask(await request(asked.asks, { machine, list, fields: asked.fields, key: key(), seq }));
  if (reply.entry) await store.putEntry({ seq, entry: reply.entry, photos: asked.photos, person: (await holder()).person });
  await show();
  document.getElementById("phone-root").innerHTML = reply.html;
}

/** A step of a job card: kept here, and the next one shown from what the phone holds. */
async function keepStep(form, asked) {
  const { unit, visit, step } = form.dataset;
  const machine = await store.machine(unit);
  if (String(machine?.card?.visit) !== visit) return false;
  const seq = await store.nextSeq();
  const fields = { ...asked.fields, visit: [visit] };
  const reply = await ask(await request("step", { machine, entries: await stepsOf(unit), step, fields, key: key(), seq }));
  if (reply.entry) await store.putEntry({ seq, entry: reply.entry, photos: asked.photos, person: (await holder()).person });
  await show();
  if (reply.entry && !reply.html) {
    navigator.serviceWorker.ready.then((x) => x.sync?.register("outbox")).catch(() => {});
    location.assign(`/visits/${visit}`);
    return true;
  }
  const root = document.getElementById("phone-root") ?? document.getElementById("main");
  root.innerHTML = reply.html;
  htmx.process(root);
  window.scrollTo(0, 0);
  root.querySelector("[role=alert]")?.scrollIntoView({ block: "center" });
  return true;
}

/** Leaving the phone to somebody else: it is emptied, after asking when something waits. */
async function onSignOut(event) {
  const form = event.target;
  if (!(form instanceof HTMLFormElement) || !form.action.endsWith("/sign-out") || form.dataset.through) return;
  event.preventDefault();
  await sendAll();
  const left = (await store.outbox()).filter((x) => !x.sent).length;
  const words = document.getElementById("outbox").dataset;
  if (left > 0 && !confirm(words.leave.replace("{0}", left))) return;
  await store.clear();
  form.dataset.through = "yes";
  form.requestSubmit();
}

/** The page of somebody who is signed out: what waits is kept for whom it belongs to, the rest goes. */
async function signedOut() {
  const left = (await store.outbox()).filter((x) => !x.sent);
  if (left.length === 0) return store.clear();
  const bar = document.getElementById("outbox-left");
  if (!bar) return;
  bar.hidden = false;
  bar.querySelector("[data-says]").textContent = bar.dataset.words.replace("{0}", left.length).replace("{1}", left[0].person);
  bar.querySelector("button").addEventListener("click", async () => {
    if (!confirm(bar.dataset.sure.replace("{0}", left.length))) return;
    await store.clear();
    bar.hidden = true;
    await show();
  });
}

/** A page that died while it waited for an answer: nobody knows whether it arrived, so it is sent again, which does no harm. */
async function wake() {
  const alive = new Set((await navigator.locks.query()).held.map((x) => x.name));
  for (const row of await store.outbox())
    if (row.busy && !alive.has(`nippers-tab-${row.busy}`)) await store.putEntry({ ...row, busy: false });
}

/** After something was sent. */
async function afterSending(done) {
  offline = false;
  if (done.signedOut) return document.documentElement.setAttribute("data-signed-out", "");
  const rows = await store.outbox();
  for (const end of rows.filter((x) => x.sent && x.entry.kind === "finish")) {
    const of = rows.filter((x) => x.entry.walk === end.entry.walk);
    if (of.every((x) => x.sent)) {
      await store.dropWalk(end.entry.walk);
      if (batch === end.entry.walk) return location.assign(`/walks/${end.walkId}`);
    }
  }
  for (const { entry } of rows.filter((x) => x.sent && x.entry.kind === "step"))
    await adoptCard(entry.fields.visit[0], entry.unit).catch(() => {});
  for (const row of rows.filter((x) => x.sent && !x.entry.walk)) await store.dropEntry(row.seq);
  if (batch && !shell()) await adopt((await store.walk(batch)).id);
  else if (batch) {
    const begun = rows.find((x) => x.entry.walk === batch && x.walkId);
    if (begun && rows.every((x) => x.sent || x.entry.walk !== batch)) {
      await store.dropWalk(batch);
      location.replace(`/walks/${begun.walkId}`);
    }
  }
  await show();
}

async function open() {
  if (!navigator.serviceWorker || !window.indexedDB || !navigator.locks) return;
  navigator.locks.request(`nippers-tab-${tab}`, () => new Promise(() => {}));
  document.addEventListener("htmx:confirm", onConfirm);
  document.addEventListener("htmx:configRequest", onConfig);
  document.addEventListener("htmx:beforeSwap", onBeforeSwap);
  document.addEventListener("htmx:afterRequest", onAnswered);
  document.addEventListener("submit", onSubmit);
  document.addEventListener("submit", onSignOut);
  const id = Number(location.pathname.match(/^\/walks\/(-?\d+)$/)?.[1]);
  const { person, role, units } = document.body.dataset;
  const walks = document.getElementById("walk-steps") !== null;
  if (!shell() && id && walks) ready = adopt(id).catch(() => store.walkById(id).then((x) => (batch = x?.batch ?? null)));
  const { card, unit } = document.querySelector("[data-card-unit]")?.dataset
    ? { card: Number(location.pathname.match(/^\/visits\/(\d+)/)?.[1]), unit: document.querySelector("[data-card-unit]").dataset.cardUnit }
    : {};
  await wake();
  if (shell()) say((await holder()).language);
  await show();
  if (shell()) {
    batch = await openShell(request);
    document.documentElement.dataset.shell = "ready";
  } else if (person) {
    await store.setMeta("person", person);
    await store.setMeta("role", role);
    await store.setMeta("units", units);
    await store.setMeta("language", document.documentElement.lang);
  } else return signedOut();
  if (!shell() && card && person) ready = Promise.all([ready, adoptCard(card, unit).catch(() => {})]);
  const turn = keepSending(afterSending);
  await ready;
  await turn();
  await later();
  await navigator.serviceWorker.register("/worker.js").catch(() => {});
  if (!shell()) await refreshKit().catch(() => {});
  if (walks || card) rules().catch(() => {});
}

open();
