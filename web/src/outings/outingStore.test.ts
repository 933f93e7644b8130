// @vitest-environment jsdom
import { afterEach, beforeEach, expect, test, vi } from "vitest";

import type { OutingOut } from "../api/types";
import { dateAfter, movedTo, newOuting, spotsOf } from "./outingActs";
import { OutingStore } from "./outingStore";

const server = vi.hoisted(() => {
  // The client takes hold of fetch when it is made.
  const held = { answer: (request: Request): Promise<Response> => Promise.reject(new Error(request.url)) };
  globalThis.fetch = ((request: Request) => held.answer(request)) as typeof fetch;
  return held;
});

const START = { name: "lay-by", latitude_deg: 54, longitude_deg: -2, elevation_m: null, time_zone: "Europe/London" };
const DAY = { date: "2026-12-30", leave_from: "05:00:00", back_by: "11:00:00", start: null, end: null };

function saved(version = 1, name = "Dawn"): OutingOut {
  return { id: "one", version, updated_at: "2026-11-26T00:00:00Z", name, outing: newOuting(DAY, START) };
}

const sent: { version: number; name: string }[] = [];
let answer: (body: { version: number; name: string }) => Response;

beforeEach(() => {
  vi.useFakeTimers();
  window.localStorage.clear();
  sent.length = 0;
  answer = (body) => Response.json({ ...saved(body.version + 1, body.name) });
  server.answer = async (request: Request) => {
    const body = (await request.json()) as { version: number; name: string };
    sent.push(body);
    return answer(body);
  };
});
afterEach(() => {
  vi.useRealTimers();
});

const rename = (store: OutingStore, name: string) => store.change({ ...store.get().draft, name });
const settle = () => vi.advanceTimersByTimeAsync(5000);

test("changes made together are saved once, over the version they were made from", async () => {
  const store = new OutingStore(saved(4));
  rename(store, "Dusk");
  rename(store, "Night");
  expect(store.get().save).toBe("unsaved");
  await settle();
  expect(sent.map((one) => [one.version, one.name])).toEqual([[4, "Night"]]);
  expect(store.get()).toMatchObject({ save: "saved", version: 5 });
});

test("undo and redo go back and forth, and are saved like any change", async () => {
  const store = new OutingStore(saved());
  rename(store, "Dusk");
  store.undo();
  expect(store.get().draft.name).toBe("Dawn");
  store.redo();
  expect(store.get().draft.name).toBe("Dusk");
  rename(store, "Noon");
  expect(store.get().undone).toEqual([]);
  await settle();
  expect(sent.at(-1)?.name).toBe("Noon");
});

test("changes of one gesture are one step back", () => {
  const store = new OutingStore(saved());
  store.outing((before) => ({ ...before, note: "a" }));
  store.outing((before) => ({ ...before, note: "b" }), true);
  store.undo();
  expect(store.get().draft.outing.note).toBe("");
});

test("without an answer it is tried again, and what a closed page could not save comes back", async () => {
  answer = () => {
    throw new TypeError("no network");
  };
  const store = new OutingStore(saved());
  rename(store, "Dusk");
  await settle();
  expect(store.get().save).toBe("unreachable");
  store.close();
  answer = (body) => Response.json({ ...saved(body.version + 1, body.name) });
  const next = new OutingStore(saved());
  expect(next.get().draft.name).toBe("Dusk");
  await settle();
  expect(next.get()).toMatchObject({ save: "saved", version: 2 });
  next.undo();
  expect(next.get().draft.name).toBe("Dawn");
});

test("of two that were saved at once both are kept in reach", async () => {
  answer = () =>
    Response.json({ title: "stale", status: 409, detail: "", errors: [], current: saved(7, "Theirs") }, { status: 409 });
  const store = new OutingStore(saved());
  rename(store, "Mine");
  await settle();
  expect(store.get()).toMatchObject({ save: "conflict", theirs: { name: "Theirs" } });
  store.resolve("theirs");
  expect(store.get()).toMatchObject({ draft: { name: "Theirs" }, version: 7 });
  store.undo();
  expect(store.get().draft.name).toBe("Mine");
  answer = (body) => Response.json({ ...saved(body.version + 1, body.name) });
  await settle();
  expect(sent.at(-1)).toMatchObject({ version: 7, name: "Mine" });
});

test("a refusal stays on the screen and is not sent again and again", async () => {
  answer = () =>
    Response.json({ title: "no", status: 422, detail: "no", errors: [{ pointer: "/x", message: "Say when." }] }, { status: 422 });
  const store = new OutingStore(saved());
  rename(store, "Dusk");
  await settle();
  expect(store.get()).toMatchObject({ save: "refused", problem: { errors: [{ message: "Say when." }] } });
  expect(sent).toHaveLength(1);
});

test("dates go over the new year, and days stay as far apart", () => {
  expect(dateAfter("2026-12-31", 1)).toBe("2027-01-01");
  expect(dateAfter("2028-02-28", 1)).toBe("2028-02-29");
  const two = newOuting(DAY, START);
  two.days = [DAY, { ...DAY, date: "2027-01-02" }];
  expect(movedTo(two, "2026-03-28").days.map((one) => one.date)).toEqual(["2026-03-28", "2026-03-31"]);
});

test("car parks come first where one may start from", () => {
  const mark = (name: string, sort: "gate" | "parking" | "hazard") => ({
    id: name,
    version: 1,
    place_id: "p",
    name,
    kind: "mark" as const,
    sort,
    note: "",
    points: [[54, -2, null]] as [number, number, number | null][],
    length_m: 0,
  });
  const found = spotsOf([], [mark("gate", "gate"), mark("edge", "hazard"), mark("park", "parking")]);
  expect(found.map((one) => one.name)).toEqual(["park", "gate"]);
});

test("a save whose answer was lost on its way is not a conflict with itself", async () => {
  const store = new OutingStore(saved(4));
  answer = () => Response.json({ status: 409, title: "changed", current: saved(5, "Dusk") }, { status: 409 });
  rename(store, "Dusk");
  await settle();
  expect(store.get()).toMatchObject({ save: "saved", version: 5, theirs: undefined });
  rename(store, "Night");
  await settle();
  expect(store.get()).toMatchObject({ save: "conflict", draft: { name: "Night" } });
});
