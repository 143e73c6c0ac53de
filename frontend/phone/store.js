// The phone's database: what it holds of the fleet, walks that are open on it, and what waits to be sent.
import { openDB } from "idb";

// A battery may die right after the screen has said so: what is kept must lie on the disk before that.
const SAFE = { durability: "strict" };

const opened = openDB("nippers", 1, {
  upgrade(db) {
    db.createObjectStore("meta");
    db.createObjectStore("machines", { keyPath: "unit" });
    db.createObjectStore("lists", { keyPath: "version" });
    db.createObjectStore("walks", { keyPath: "batch" }).createIndex("id", "id");
    db.createObjectStore("outbox", { keyPath: "seq" }).createIndex("walk", "entry.walk");
  },
});

export const meta = async (key) => (await opened).get("meta", key);
export const setMeta = async (key, value) => (await opened).put("meta", value, key);
export const machine = async (unit) => (await opened).get("machines", unit);
export const machines = async () => (await opened).getAll("machines");
/** Takes over the server's state of an open job card. */
export async function putCard(unit, card) {
  const tx = (await opened).transaction("machines", "readwrite");
  const one = await tx.store.get(unit);
  if (one) await tx.store.put({ ...one, card });
  await tx.done;
}

export const list = async (version) => (version == null ? undefined : (await (await opened).get("lists", version))?.body);
export const walk = async (batch) => (await opened).get("walks", batch);
export const walkById = async (id) => (await opened).getFromIndex("walks", "id", id);
export const entriesOf = async (batch) => (await opened).getAllFromIndex("outbox", "walk", batch);
export const outbox = async () => (await opened).getAll("outbox");
export async function putEntry(row) {
  const tx = (await opened).transaction("outbox", "readwrite", SAFE);
  await tx.store.put(row);
  await tx.done;
}
export const dropEntry = async (seq) => (await opened).delete("outbox", seq);

/** The next number of what is done on this phone; it never comes twice. */
export async function nextSeq() {
  const tx = (await opened).transaction("meta", "readwrite");
  const seq = ((await tx.store.get("seq")) ?? 0) + 1;
  await tx.store.put(seq, "seq");
  await tx.done;
  return seq;
}

/** Takes over a new state of all machines. */
export async function putKit(kit) {
  const tx = (await opened).transaction(["machines", "lists", "meta"], "readwrite");
  await tx.objectStore("machines").clear();
  for (const one of kit.machines) await tx.objectStore("machines").put(one);
  for (const one of kit.lists) await tx.objectStore("lists").put(one);
  await tx.objectStore("meta").put(kit.phrases ?? [], "phrases");
  await tx.objectStore("meta").put(Date.now(), "kitAt");
  await tx.done;
}

/** Takes over the server's state of a walk; what it has of this phone's entries is in it. */
export async function putWalk({ walk: state, lists }, sent) {
  const tx = (await opened).transaction(["walks", "lists", "outbox"], "readwrite");
  await tx.objectStore("walks").put(state);
  for (const one of lists ?? []) await tx.objectStore("lists").put(one);
  for (const seq of sent) await tx.objectStore("outbox").delete(seq);
  await tx.done;
}

/** A walk that was begun here, with the entry that begins it: both or neither. */
export async function putBegun(state, row) {
  const tx = (await opened).transaction(["walks", "outbox"], "readwrite", SAFE);
  await tx.objectStore("walks").put(state);
  await tx.objectStore("outbox").put(row);
  await tx.done;
}

/** The walk is over and sent: nothing of it is needed here any more. */
export async function dropWalk(batch) {
  const rows = await entriesOf(batch);
  const tx = (await opened).transaction(["walks", "outbox"], "readwrite");
  await tx.objectStore("walks").delete(batch);
  for (const row of rows) await tx.objectStore("outbox").delete(row.seq);
  await tx.done;
}

/** Empties the phone. */
export async function clear() {
  const db = await opened;
  const tx = db.transaction(["machines", "lists", "walks", "outbox", "meta"], "readwrite");
  for (const name of ["machines", "lists", "walks", "outbox"]) await tx.objectStore(name).clear();
  for (const key of ["person", "role", "units", "language", "phrases", "kitAt", "ahead"]) await tx.objectStore("meta").delete(key);
  await tx.done;
}
