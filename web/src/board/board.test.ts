// @vitest-environment jsdom
import "fake-indexeddb/auto";
import { beforeEach, describe, expect, it, vi } from "vitest";

import { queryClient } from "../api/queries";
import type { Along, Late, Outing, SequenceOut } from "../api/types";
import { withInstead } from "../field/instead";
import { setWhose } from "../shell/kept";
import { hydrateFromBoard } from "./hydrate";
import { onBoardPlan } from "./onBoardPlan";
import {
  boardItems,
  database,
  forgetSafe,
  freshenOnBoard,
  keepSafe,
  openTexts,
  putOnBoard,
  readSafe,
  safeKeys,
  takeOffBoard,
} from "./store";
import { alongKey, lateKey } from "./takeAlong";
import { agoWords, sizeWords } from "./words";

const item = (of: string, data: unknown) => ({
  kind: "outing" as const,
  of,
  name: of,
  takenAt: 1,
  lacking: [],
  answers: [{ key: ["along", of], data, at: Date.now() }],
});

beforeEach(async () => {
  setWhose(null);
  queryClient.clear();
  for (const one of await boardItems()) await takeOffBoard(one.id);
});

describe("the board", () => {
  it("puts what queries answered back, and does not go by it over what is newer", async () => {
    await putOnBoard(item("a", { n: 1 }));
    await hydrateFromBoard();
    expect(queryClient.getQueryData(["along", "a"])).toEqual({ n: 1 });
    queryClient.setQueryData(["along", "a"], { n: 2 }, { updatedAt: Date.now() + 5 });
    await hydrateFromBoard();
    expect(queryClient.getQueryData(["along", "a"])).toEqual({ n: 2 });
  });

  it("counts its size, and one under a name once", async () => {
    await putOnBoard(item("a", "x".repeat(1000)));
    await putOnBoard(item("a", "x".repeat(5000)));
    const all = await boardItems();
    expect(all.map((one) => one.of)).toEqual(["a"]);
    expect(all[0]?.bytes).toBeGreaterThan(5000);
  });

  it("is as fresh as what was saved last, and nothing that is not on board comes onto it", async () => {
    await putOnBoard(item("a", { n: 1 }));
    await freshenOnBoard("outing", "a", ["along", "a"], { n: 2 });
    await freshenOnBoard("outing", "a", ["another"], { n: 3 });
    await freshenOnBoard("outing", "b", ["along", "b"], { n: 4 });
    const all = await boardItems();
    expect(all.map((one) => one.answers.map(({ data }) => data))).toEqual([[{ n: 2 }]]);
    expect(all[0]?.takenAt).toBe(1);
  });

  it("keeps a text in the small store where the large one has no room, and believes the newer", async () => {
    expect(await keepSafe("k", "old")).toBe(true);
    const put = vi.spyOn(IDBObjectStore.prototype, "put").mockImplementation(() => {
      throw new DOMException("full", "QuotaExceededError");
    });
    expect(await keepSafe("k", "new")).toBe(true);
    put.mockRestore();
    await openTexts();
    expect(readSafe("k")).toBe("new");
    expect(await (await database()).get("texts", "k")).toBeUndefined();
    await keepSafe("k", "newest");
    expect(window.localStorage.getItem("k")).toBeNull();
    await forgetSafe("k");
    expect(readSafe("k")).toBeNull();
  });

  it("is each person's own on a device that two share", async () => {
    await putOnBoard(item("a", 1));
    await keepSafe("lucid-ridge/unsaved-outing/1", "nobody's");
    setWhose("ada");
    expect(await boardItems()).toEqual([]);
    expect(readSafe("lucid-ridge/unsaved-outing/1")).toBeNull();
    await keepSafe("lucid-ridge/unsaved-outing/2", "ada's");
    expect(safeKeys("lucid-ridge/unsaved-outing/")).toEqual(["lucid-ridge/unsaved-outing/2"]);
    await forgetSafe("lucid-ridge/unsaved-outing/2");
    setWhose(null);
    expect(safeKeys("lucid-ridge/unsaved-outing/")).toEqual(["lucid-ridge/unsaved-outing/1"]);
  });
});

describe("the plan on board", () => {
  const plan = (...visits: string[]) => ({ days: [{ visits: visits.map((visit_id) => ({ visit_id })) }] });
  const asks = { days: [], start: null, end: null, visits: ["a", "b", "c"], rides: [], pace: {}, detour: 1.3 };
  const along = {
    outing: { outing: { ...asks, done: [] } },
    plan: { plan: plan("a", "b", "c"), readiness: {}, weather: {}, gone: [] },
  } as unknown as Along;
  const late = [
    {
      visit_id: "a",
      later: [
        { minutes: 0, leaves_at: "2026-11-28T08:00:00Z", plan: plan("b", "c") },
        { minutes: 10, leaves_at: "2026-11-28T08:10:00Z", plan: plan("c") },
        { minutes: 30, leaves_at: "2026-11-28T08:30:00Z", plan: plan() },
      ],
    },
    { visit_id: "b", later: [{ minutes: 0, leaves_at: "2026-11-28T09:00:00Z", plan: plan("c") }] },
  ] as unknown as Late[];
  const done = (...all: [string, string][]) =>
    ({ ...asks, done: all.map(([visit_id, left_at]) => ({ visit_id, left_at })) }) as unknown as Outing;
  const ids = (outing: Outing) => {
    const found = onBoardPlan("o", outing);
    return [found?.plan.plan.days.flatMap((day) => day.visits.map((one) => one.visit_id)).join(""), found?.exact];
  };

  beforeEach(() => {
    queryClient.setQueryData(alongKey("o"), along);
    queryClient.setQueryData(lateKey("o"), late);
  });

  it("is that of the next lateness that was worked out, never of an earlier one", () => {
    expect(ids(done())).toEqual(["abc", true]);
    expect(ids(done(["a", "2026-11-28T07:50:00Z"]))).toEqual(["bc", true]);
    expect(ids(done(["a", "2026-11-28T08:03:00Z"]))).toEqual(["c", true]);
    expect(ids(done(["a", "2026-11-28T11:00:00Z"]))).toEqual(["", true]);
  });

  it("says that it is not exact where the outing was changed since, but not for what was ticked", () => {
    expect(ids({ ...done(), visits: [] } as unknown as Outing)).toEqual(["abc", false]);
    expect(ids({ ...done(), packing: { ticked: ["x"] }, note: "n" } as unknown as Outing)).toEqual(["abc", true]);
  });

  it("says that it is not exact where things were done in another order", () => {
    expect(ids(done(["b", "2026-11-28T08:30:00Z"]))).toEqual(["c", false]);
    expect(ids(done(["c", "2026-11-28T08:30:00Z"]))).toEqual(["abc", false]);
    expect(onBoardPlan("another", done())).toBeUndefined();
  });
});

it("sets what was found on the spot in every frame but those of layers", () => {
  const frame = (number: number, bracket_number: number, layer: string | null) => ({
    number,
    bracket_number,
    layer,
    exposure_s: 1,
    dark_frame_s: 0,
    shutter: { text: "1 s", value: 1 },
    aperture: { text: "f/8" },
    iso: { text: "100" },
  });
  const sequence = {
    plan: { sequence: { frames: [frame(1, 1, "wave"), frame(2, 1, null), frame(3, 2, null)] } },
  } as unknown as SequenceOut;
  const bracket = [
    { seconds: 2, text: "2 s", bulb: false },
    { seconds: 64, text: "1 min 04 s", bulb: true },
  ];
  const instead = { words: "", aperture: "f/11", iso: "200", filters: "ND 3 stops", bracket };
  const frames = withInstead(sequence, instead).plan.sequence.frames;
  expect(frames.map((one) => [one.exposure_s, one.aperture.text, one.bulb ?? false])).toEqual([
    [1, "f/8", false],
    [2, "f/11", false],
    [64, "f/11", true],
  ]);
  expect(withInstead(sequence, null)).toBe(sequence);
});

it("says sizes and ages as people do", () => {
  expect([900, 1600, 1_600_000, 10_700_000_000].map(sizeWords)).toEqual(["900 B", "2 kB", "1.6 MB", "10.7 GB"]);
  const hour = 3_600_000;
  expect([0, 300_000, 5 * hour, 72 * hour, -5].map((gone) => agoWords(0, gone))).toEqual([
    "just now",
    "5 min ago",
    "5 h ago",
    "3 days ago",
    "just now",
  ]);
});
