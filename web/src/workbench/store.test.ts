import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import type { CompositionOut } from "../api/types";

/** A server that closes nothing and counts: it answers what it was asked, one aperture step a nudge. */
class FakeServer {
  version = 1;
  down = false;
  evaluations: { changes: { kind: string }[]; bench?: string }[] = [];
  saved: { name: string; version: number; composition: { settings: { aperture_n: number } } }[] = [];
  refuse: object | null = null;
  hold: Promise<void> | null = null;

  fetch = async (request: Request): Promise<Response> => {
    if (this.down) throw new TypeError("no route");
    const body = JSON.parse(await request.text());
    const whole = request.url.endsWith("/api/evaluate");
    if (whole || request.url.endsWith("/api/workbench")) {
      this.evaluations.push(body);
      if (this.hold) await this.hold;
      if (this.refuse) return json(this.refuse, 422);
      const settings = { ...body.scene.composition.settings };
      for (const change of body.changes) if (change.kind === "nudge") settings.aperture_n += change.steps;
      const locks = body.changes
        .filter((c: { kind: string; on?: boolean }) => c.kind === "lock" && c.on)
        .map((c: { setting: string }) => c.setting);
      const composition = { ...body.scene.composition, settings, locks: [...body.scene.composition.locks, ...locks] };
      const shown = { depth: { of: settings.aperture_n }, sequence: { of: settings.aperture_n } };
      const ribbon = { of: settings.aperture_n };
      if (whole) return json({ composition, tensions: [], light: { ribbon }, ...shown });
      const bench = body.bench as keyof typeof shown;
      return json({ bench, composition, tensions: [], ribbon, [bench]: shown[bench] });
    }
    if (body.version !== this.version) {
      return json(
        { title: "stale", status: 409, detail: "", errors: [], current: { ...SAVED, name: "theirs", version: this.version } },
        409,
      );
    }
    this.version += 1;
    this.saved.push(body);
    return json({ ...SAVED, ...body, version: this.version });
  };
}

const json = (data: object, status = 200) =>
  new Response(JSON.stringify(data), {
    status,
    headers: { "Content-Type": status < 300 ? "application/json" : "application/problem+json" },
  });

const SAVED = {
  id: "c",
  version: 1,
  updated_at: "2026-10-18T07:25:00Z",
  name: "Tarn",
  place_id: "p",
  body_id: "b",
  lens_id: "l",
  support_id: "s",
  composition: { settings: { aperture_n: 11, compensation_stops: 0 }, locks: [], elements: [] },
} as unknown as CompositionOut;

const item = (id: string, kind: string) => ({ id, version: 1, updated_at: "", item: { kind, details: { name: kind } } });
const AROUND = {
  kit: [item("b", "body"), item("l", "lens"), item("s", "support")],
  places: [{ id: "p", place: { name: "Tarn" } }],
  units: "metric",
} as never;

const nudge = { kind: "nudge", setting: "aperture", steps: 1 } as const;

let server: FakeServer;
let kept: Map<string, string>;

async function makeStore(saved = SAVED, onLocked: (setting: string) => void = () => undefined) {
  vi.resetModules();
  const { WorkbenchStore } = await import("./store");
  const store = new WorkbenchStore(saved, AROUND, onLocked);
  store.open();
  await settle();
  return store;
}

/** Let everything that waits for time or the network happen. */
const settle = () => vi.advanceTimersByTimeAsync(0);

beforeEach(() => {
  vi.useFakeTimers();
  server = new FakeServer();
  kept = new Map();
  const storage = {
    getItem: (k: string) => kept.get(k) ?? null,
    setItem: (k: string, v: string) => void kept.set(k, v),
    removeItem: (k: string) => void kept.delete(k),
  };
  vi.stubGlobal("window", {
    location: { origin: "http://127.0.0.1" },
    localStorage: storage,
    setTimeout: setTimeout.bind(globalThis),
    clearTimeout: clearTimeout.bind(globalThis),
  });
  vi.stubGlobal("fetch", server.fetch);
});

afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe("the workbench's draft", () => {
  it("sends acts made while an answer is awaited together in the next request", async () => {
    const store = await makeStore();
    let release: () => void = () => undefined;
    server.hold = new Promise((done) => (release = done));
    store.act("nudge", nudge);
    await settle();
    store.act("nudge", nudge);
    store.act("nudge", nudge);
    await settle();
    release();
    server.hold = null;
    await settle();
    expect(server.evaluations.map((one) => one.changes.length)).toEqual([0, 1, 2]);
    expect(store.snapshot().draft.composition.settings.aperture_n).toBe(14);
  });

  it("of a hand that drags sends only where it is now, and of steps every one", async () => {
    const store = await makeStore();
    let release: () => void = () => undefined;
    server.hold = new Promise((done) => (release = done));
    store.act("stand", { kind: "stand", east_m: 1, north_m: 0 });
    await settle();
    store.act("stand", { kind: "stand", east_m: 2, north_m: 0 });
    store.act("stand", { kind: "stand", east_m: 3, north_m: 0 });
    store.act("step", { kind: "step", right_m: 0.1, ahead_m: 0 });
    store.act("step", { kind: "step", right_m: 0.1, ahead_m: 0 });
    await settle();
    release();
    server.hold = null;
    await settle();
    const sent = server.evaluations.at(-1)?.changes as { kind: string; east_m?: number }[];
    expect(sent.map((one) => one.kind)).toEqual(["stand", "step", "step"]);
    expect(sent[0]?.east_m).toBe(3);
  });

  it("lets the benches wait while a hand drags, and follow when it rests", async () => {
    const store = await makeStore();
    const { dragState } = await import("../instruments/dragState");
    dragState.busy = true;
    store.act("nudge", nudge);
    await settle();
    expect(store.snapshot().draft.composition.settings.aperture_n).toBe(12);
    expect(store.unhurried().draft.composition.settings.aperture_n).toBe(11);
    await vi.advanceTimersByTimeAsync(200);
    expect(store.unhurried()).toBe(store.snapshot());
    dragState.busy = false;
    store.act("nudge", nudge);
    await settle();
    expect(store.unhurried()).toBe(store.snapshot());
  });

  it("keeps the order of edits and changes", async () => {
    const store = await makeStore();
    store.act("nudge", nudge);
    store.compose("aperture by hand", (c) => ({ settings: { ...c.settings, aperture_n: 4 } }));
    store.act("nudge", nudge);
    await settle();
    expect(store.snapshot().draft.composition.settings.aperture_n).toBe(5);
  });

  it("undoes a burst of one kind as one step, and goes forward again", async () => {
    const store = await makeStore();
    for (let i = 0; i < 4; i += 1) {
      store.act("nudge", nudge);
      await settle();
    }
    store.edit("name", (d) => ({ ...d, name: "Other" }));
    await settle();
    store.undo();
    await settle();
    expect(store.snapshot().draft.name).toBe("Tarn");
    expect(store.snapshot().draft.composition.settings.aperture_n).toBe(15);
    store.undo();
    await settle();
    expect(store.snapshot().draft.composition.settings.aperture_n).toBe(11);
    expect(store.snapshot().canUndo).toBe(false);
    store.redo();
    store.redo();
    await settle();
    expect(store.snapshot().draft.name).toBe("Other");
  });

  it("does not move a locked setting and says so", async () => {
    const told = vi.fn();
    const store = await makeStore(SAVED, told);
    store.act("lock", { kind: "lock", setting: "aperture", on: true });
    await settle();
    store.act("nudge", nudge);
    await settle();
    expect(told).toHaveBeenCalledWith("aperture");
    expect(store.snapshot().draft.composition.settings.aperture_n).toBe(11);
  });
});

describe("of the benches only the open one", () => {
  const of = (part: unknown) => (part as { of: number } | undefined)?.of;

  it("is asked for, and the ribbon of the day always", async () => {
    const store = await makeStore();
    store.openBench("sequence");
    store.act("nudge", nudge);
    await settle();
    const { evaluation, told } = store.snapshot();
    expect(server.evaluations.map((one) => one.bench)).toEqual([undefined, "sequence"]);
    expect([of(evaluation?.sequence), of(evaluation?.light.ribbon), of(evaluation?.depth)]).toEqual([12, 12, 11]);
    expect([...told]).toEqual(["sequence"]);
  });

  it("is asked for too when it is opened while an answer for another is on its way", async () => {
    const store = await makeStore();
    let release: () => void = () => undefined;
    server.hold = new Promise((done) => (release = done));
    store.act("nudge", nudge);
    await settle();
    store.openBench("sequence");
    server.hold = null;
    release();
    await settle();
    expect([of(store.snapshot().evaluation?.sequence), store.snapshot().told.has("sequence")]).toEqual([12, true]);
  });

  it("is asked for anew when it is opened after something was changed, and the scene is the same to all who ask about it", async () => {
    const store = await makeStore();
    store.openBench("sequence");
    await settle();
    // What came with the first evaluation holds for every bench.
    expect(server.evaluations).toHaveLength(1);
    store.act("nudge", nudge);
    await settle();
    const before = store.snapshot();
    expect(before.told.has("depth")).toBe(false);
    store.openBench("depth");
    await settle();
    const now = store.snapshot();
    expect([of(now.evaluation?.depth), now.told.has("depth"), now.revision]).toEqual([12, true, before.revision]);
    expect(now.save).toBe(before.save);
  });
});

describe("saving", () => {
  it("happens by itself, once the hand rests, with what followed", async () => {
    const store = await makeStore();
    store.act("nudge", nudge);
    await vi.advanceTimersByTimeAsync(300);
    store.act("nudge", nudge);
    await vi.advanceTimersByTimeAsync(300);
    expect(server.saved).toHaveLength(0);
    await vi.advanceTimersByTimeAsync(1500);
    expect(server.saved.map((one) => one.composition.settings.aperture_n)).toEqual([13]);
    expect(store.snapshot().save).toBe("saved");
    expect(kept.size).toBe(0);
  });

  it("keeps a draft in the browser while the server is gone, and saves it when it is back", async () => {
    const store = await makeStore();
    server.down = true;
    store.act("nudge", nudge);
    await vi.advanceTimersByTimeAsync(4000);
    expect(store.snapshot().problem?.status).toBe(0);
    expect(kept.size).toBe(1);
    server.down = false;
    await vi.advanceTimersByTimeAsync(6000);
    expect(store.snapshot().problem).toBeNull();
    expect(store.snapshot().draft.composition.settings.aperture_n).toBe(12);
    expect(server.saved.at(-1)?.composition.settings.aperture_n).toBe(12);
  });

  it("counts an act that is sent again and again as one step of history", async () => {
    const store = await makeStore();
    server.down = true;
    store.act("nudge", nudge);
    await vi.advanceTimersByTimeAsync(5 * 60_000);
    server.down = false;
    await vi.advanceTimersByTimeAsync(6000);
    expect(store.snapshot().draft.composition.settings.aperture_n).toBe(12);
    store.undo();
    await settle();
    expect(store.snapshot().draft.composition.settings.aperture_n).toBe(11);
    expect(store.snapshot().canUndo).toBe(false);
  });

  it("moves the scene's revision on with each answer, and not without one", async () => {
    const store = await makeStore();
    const before = store.snapshot().revision;
    store.act("nudge", nudge);
    await settle();
    expect(store.snapshot().revision).toBe(before + 1);
    server.down = true;
    store.act("nudge", nudge);
    await vi.advanceTimersByTimeAsync(4000);
    expect(store.snapshot().revision).toBe(before + 1);
  });

  it("puts a draft of another version aside instead of sending it for ever", async () => {
    const first = await makeStore();
    first.edit("name", (d) => ({ ...d, name: "Old words" }));
    await settle();
    const [key = ""] = kept.keys();
    const old = JSON.parse(kept.get(key) ?? "{}") as { draft: { composition: { settings: Record<string, unknown> } } };
    delete old.draft.composition.settings["compensation_stops"];
    kept.set(key, JSON.stringify(old));
    const second = await makeStore();
    expect(second.snapshot().draft.name).toBe("Tarn");
    expect(kept.get(`${key}/unreadable`)).toContain("Old words");
  });

  it("takes up what a closed page could not save", async () => {
    const first = await makeStore();
    first.edit("name", (d) => ({ ...d, name: "Half done" }));
    first.act("nudge", nudge);
    await settle();
    // The page dies here; another one opens the composition.
    const second = await makeStore();
    expect(second.snapshot().draft.name).toBe("Half done");
    expect(second.snapshot().draft.composition.settings.aperture_n).toBe(12);
    await vi.advanceTimersByTimeAsync(2000);
    expect(server.saved.at(-1)?.name).toBe("Half done");
    second.undo();
    await settle();
    expect(second.snapshot().draft.name).toBe("Tarn");
  });

  it("tells a conflict and overwrites only when asked", async () => {
    const store = await makeStore();
    server.version = 5;
    store.act("nudge", nudge);
    await vi.advanceTimersByTimeAsync(2000);
    expect(store.snapshot().save).toBe("conflict");
    expect(store.snapshot().theirs?.name).toBe("theirs");
    expect(server.saved).toHaveLength(0);
    store.resolveConflict("mine");
    await vi.advanceTimersByTimeAsync(2000);
    expect(server.saved.at(-1)?.version).toBe(5);
    expect(store.snapshot().save).toBe("saved");
  });

  it("can take the other one, with mine one undo away", async () => {
    const store = await makeStore();
    server.version = 5;
    store.edit("name", (d) => ({ ...d, name: "mine" }));
    await vi.advanceTimersByTimeAsync(2000);
    store.resolveConflict("theirs");
    await settle();
    expect(store.snapshot().draft.name).toBe("theirs");
    store.undo();
    await settle();
    expect(store.snapshot().draft.name).toBe("mine");
  });

  it("shows what the server refuses and keeps the draft", async () => {
    const store = await makeStore();
    server.refuse = {
      type: "x",
      title: "This cannot be computed",
      status: 422,
      detail: "f",
      errors: [{ pointer: "/composition/settings/iso", message: "no" }],
    };
    store.compose("iso", (c) => ({ settings: { ...c.settings, iso: 3 } }));
    await settle();
    expect(store.snapshot().problem?.errors[0]?.pointer).toBe("/composition/settings/iso");
    expect(store.snapshot().draft.composition.settings.iso).toBe(3);
    expect(store.snapshot().evaluation).not.toBeNull();
  });
});
