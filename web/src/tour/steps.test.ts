import { describe, expect, it } from "vitest";

import { STEPS, stepsIn, TARGETS } from "./steps";

describe("the guide's steps", () => {
  it("takes heading and first paragraph of each, and nothing else", () => {
    const made = stepsIn("# Title\n\nIntro.\n\n## 1. One\n\nFirst\nline.\n\nMore.\n\n![x](y.png)\n\n## 2. Two\n\nSecond.\n");
    expect(made).toEqual([
      { title: "One", says: "First line." },
      { title: "Two", says: "Second." },
    ]);
  });

  it("has a place to point at for each step, and sentences that fit the card", () => {
    expect(STEPS.length).toBe(TARGETS.length);
    for (const step of STEPS) {
      expect(step.title).not.toBe("");
      expect(step.says.length).toBeGreaterThan(40);
      expect(step.says.length).toBeLessThan(260);
    }
  });
});
