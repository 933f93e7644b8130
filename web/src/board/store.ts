import { type DBSchema, type IDBPDatabase, openDB } from "idb";

import { forgetKept, keep, mine, readKept } from "../shell/kept";

/** What a query answered, to be shown again without a network. */
export interface Answer {
  key: readonly unknown[];
  data: unknown;
  at: number;
}

/** Something taken along: an outing, a sequence, or the lists of Home. */
export interface BoardItem {
  /** Unlike for two people on one device. */
  id: string;
  whose: string;
  kind: "outing" | "sequence" | "home";
  of: string;
  name: string;
  takenAt: number;
  bytes: number;
  /** What could not be taken along, in words. */
  lacking: string[];
  answers: Answer[];
}

/** Something recorded that the server does not have yet, or that it has had for a while. */
export interface Waiting {
  id: string;
  whose: string;
  kind: "take" | "spot" | "picture";
  name: string;
  at: number;
  path: string;
  body: unknown;
  state: "waiting" | "sent" | "refused";
  why: string;
  sentAt: number | null;
}

interface Shape extends DBSchema {
  texts: { key: string; value: string };
  board: { key: string; value: BoardItem };
  outbox: { key: string; value: Waiting };
}

const OPEN_MS = 2000;
let opened: Promise<IDBPDatabase<Shape>> | undefined;

/** The store of this browser, opened anew where it was closed. Rejects where the browser has none, or keeps it shut. */
export function database(): Promise<IDBPDatabase<Shape>> {
  if (opened) return opened;
  const forget = () => (opened = undefined);
  opened = openDB<Shape>("lucid-ridge", 1, {
    upgrade(db) {
      db.createObjectStore("texts");
      db.createObjectStore("board", { keyPath: "id" });
      db.createObjectStore("outbox", { keyPath: "id" });
    },
    blocking(_old, _new, event) {
      (event.target as IDBDatabase).close();
      forget();
    },
    terminated: forget,
  });
  opened.catch(forget);
  return opened;
}

/** What must be there after a crash is on the disk before it is called kept. */
const SAFE = { durability: "strict" } as const;

const texts = new Map<string, string>();
const listeners = new Set<() => void>();

/** Be told when what is on board, or what waits, changes. Returns how to stop. */
export function whenBoardChanges(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

const channel = typeof BroadcastChannel === "undefined" ? undefined : new BroadcastChannel("lucid-ridge/board");
if (channel) channel.onmessage = () => listeners.forEach((listener) => listener());

function tell() {
  for (const listener of listeners) listener();
  channel?.postMessage("changed");
}

/** Read the texts that this browser keeps safe, once, before any page is drawn. */
export async function openTexts(): Promise<void> {
  const read = async () => {
    const db = await database();
    const [keys, values] = await Promise.all([db.getAllKeys("texts"), db.getAll("texts")]);
    keys.forEach((key, k) => texts.set(key, values[k] ?? ""));
  };
  // A store that does not open must not keep the pages from opening.
  const late = new Promise<never>((_, reject) => window.setTimeout(() => reject(new Error("the store does not open")), OPEN_MS));
  await Promise.race([read(), late]);
}

/** A text kept safe, as it was put last on this page or read at its start. */
export const readSafe = (key: string): string | null => texts.get(mine(key)) ?? readKept(mine(key));

/** The names of all texts kept safe for whoever is signed in that begin so. */
export function safeKeys(start: string): string[] {
  const end = mine("");
  return [...texts.keys()]
    .filter((key) => key.startsWith(start) && key.endsWith(end) && (end !== "" || !key.includes("@")))
    .map((key) => key.slice(0, key.length - end.length));
}

/** Keep a text safe: where this gives true it is on the disk, else it is there for as long as the page is open. */
export async function keepSafe(key: string, value: string): Promise<boolean> {
  texts.set(mine(key), value);
  try {
    const db = await database();
    const write = db.transaction("texts", "readwrite", SAFE);
    await Promise.all([write.store.put(value, mine(key)), write.done]);
    forgetKept(mine(key));
    return true;
  } catch {
    // A browser with no store of this kind, or no room in it: the smaller one is tried, which tells when it is full too. What
    // the larger one held is older.
    await removeText(mine(key));
    return keep(mine(key), value);
  }
}

async function removeText(key: string): Promise<void> {
  try {
    const db = await database();
    await db.delete("texts", key);
  } catch {
    // What is shut off holds nothing.
  }
}

export async function forgetSafe(key: string): Promise<void> {
  texts.delete(mine(key));
  forgetKept(mine(key));
  await removeText(mine(key));
}

/** Whose things these are, as a part of keys. */
export const whose = () => mine("");

export async function boardItems(): Promise<BoardItem[]> {
  const db = await database();
  const all = await db.getAll("board");
  return all.filter((one) => one.whose === whose()).sort((a, b) => b.takenAt - a.takenAt);
}

/** Put something on board, in place of what was there under its name. */
export async function putOnBoard(item: Omit<BoardItem, "id" | "whose" | "bytes">): Promise<BoardItem> {
  const whole: BoardItem = {
    ...item,
    id: `${item.kind}/${item.of}${whose()}`,
    whose: whose(),
    bytes: new Blob([JSON.stringify(item.answers)]).size,
  };
  const db = await database();
  const write = db.transaction("board", "readwrite", SAFE);
  await Promise.all([write.store.put(whole), write.done]);
  tell();
  return whole;
}

/** Have something on board hold what the server answered last; nothing where it is not on board. */
export async function freshenOnBoard(kind: BoardItem["kind"], of: string, key: readonly unknown[], data: unknown) {
  const db = await database();
  const write = db.transaction("board", "readwrite");
  const item = await write.store.get(`${kind}/${of}${whose()}`);
  const told = JSON.stringify(key);
  if (item)
    await write.store.put({
      ...item,
      answers: item.answers.map((one) => (JSON.stringify(one.key) === told ? { key, data, at: Date.now() } : one)),
    });
  await write.done;
}

export async function takeOffBoard(id: string): Promise<void> {
  const db = await database();
  await db.delete("board", id);
  tell();
}

/** Everything in the outbox of whoever is signed in, the oldest first. */
export async function outbox(): Promise<Waiting[]> {
  const db = await database();
  const all = await db.getAll("outbox");
  return all.filter((one) => one.whose === whose()).sort((a, b) => a.at - b.at);
}

/** Put something in the outbox; it is on the disk when this resolves. */
export async function putInOutbox(one: Waiting): Promise<void> {
  const db = await database();
  const write = db.transaction("outbox", "readwrite", SAFE);
  await Promise.all([write.store.put(one), write.done]);
  tell();
}

export async function dropFromOutbox(id: string): Promise<void> {
  const db = await database();
  await db.delete("outbox", id);
  tell();
}
