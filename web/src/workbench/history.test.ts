import { beforeEach, describe, expect, it, vi } from "vitest";

import { History } from "./history";

let now = 0;

beforeEach(() => {
  now = 0;
  vi.spyOn(performance, "now").mockImplementation(() => now);
});

describe("history", () => {
  it("takes acts of one kind close together as one step", () => {
    const history = new History<number>();
    for (const state of [0, 1, 2]) {
      history.remember("nudge", state);
      now += 100;
    }
    now += 1000;
    history.remember("nudge", 3);
    history.remember("aim", 4);
    expect([history.undo(5), history.undo(4), history.undo(3), history.undo(0)]).toEqual([4, 3, 0, undefined]);
    expect(history.canUndo).toBe(false);
  });

  it("does again what was undone, until something else is done", () => {
    const history = new History<string>();
    history.remember("a", "one");
    expect(history.undo("two")).toBe("one");
    expect(history.redo("one")).toBe("two");
    expect(history.undo("two")).toBe("one");
    history.remember("b", "one");
    expect(history.canRedo).toBe(false);
    expect(history.redo("other")).toBeUndefined();
  });

  it("forgets the oldest of very many steps", () => {
    const history = new History<number>();
    for (let i = 0; i < 450; i++) history.remember(`act ${i}`, i);
    let state: number | undefined = 450;
    const back: number[] = [];
    while ((state = history.undo(state)) !== undefined) back.push(state);
    expect(back[0]).toBe(449);
    expect(back.at(-1)).toBe(450 - back.length);
    expect(back.length).toBeLessThan(450);
  });
});
