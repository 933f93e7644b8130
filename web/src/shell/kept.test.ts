// @vitest-environment jsdom
import { afterEach, describe, expect, it, vi } from "vitest";

import { freshId } from "./freshId";
import { forgetKept, keep, mine, readKept, setWhose, whenFull } from "./kept";

afterEach(() => vi.restoreAllMocks());

describe("what the browser keeps", () => {
  it("is there again, and gone when it is forgotten", () => {
    expect(keep("a", "1")).toBe(true);
    expect(readKept("a")).toBe("1");
    expect(window.localStorage.getItem("a")).toBe("1");
    forgetKept("a");
    expect(readKept("a")).toBeNull();
  });

  it("is kept beside a full storage, told once for each, and goes in when there is room", () => {
    const told = vi.fn();
    const stop = whenFull(told);
    const full = vi.spyOn(Storage.prototype, "setItem").mockImplementation(() => {
      throw new DOMException("full", "QuotaExceededError");
    });
    keep("b", "old");
    expect(keep("b", "new")).toBe(false);
    expect(readKept("b")).toBe("new");
    expect(told).toHaveBeenCalledTimes(2);
    full.mockRestore();
    stop();
    expect(keep("b", "newer")).toBe(true);
    expect(window.localStorage.getItem("b")).toBe("newer");
    expect(readKept("b")).toBe("newer");
    expect(told).toHaveBeenCalledTimes(2);
  });

  it("does without a storage that is shut off", () => {
    for (const name of ["getItem", "setItem", "removeItem"] as const)
      vi.spyOn(Storage.prototype, name).mockImplementation(() => {
        throw new DOMException("no", "SecurityError");
      });
    expect(readKept("c")).toBeNull();
    expect(keep("c", "1")).toBe(false);
    expect(readKept("c")).toBe("1");
    forgetKept("c");
    expect(readKept("c")).toBeNull();
  });
});

it("makes ids where the browser makes none", () => {
  vi.stubGlobal("crypto", { getRandomValues: (bytes: Uint8Array) => bytes.map((_, i) => 255 - i) });
  expect(freshId()).toBe("fffefdfc-fbfa-49f8-b7f6-f5f4f3f2f1f0");
  vi.unstubAllGlobals();
  const many = new Set(Array.from({ length: 500 }, freshId));
  expect(many.size).toBe(500);
  for (const one of many) expect(one).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
});

it("keeps things apart for two people who share a device", () => {
  setWhose("a");
  keep(mine("draft"), "of a");
  setWhose("b");
  expect(readKept(mine("draft"))).toBeNull();
  setWhose("a");
  expect(readKept(mine("draft"))).toBe("of a");
  setWhose(null);
  expect(mine("draft")).toBe("draft");
});
