import { describe, expect, it } from "vitest";

import { skylineText, typedSkyline, typedTide } from "./sky";

describe("a typed skyline", () => {
  it("reads a point a line, and writes it back", () => {
    const read = typedSkyline("95, 6.5\n\n110° 8\n131;−3");
    expect(read).toEqual([
      { azimuth_deg: 95, altitude_deg: 6.5 },
      { azimuth_deg: 110, altitude_deg: 8 },
      { azimuth_deg: 131, altitude_deg: -3 },
    ]);
    expect(typedSkyline(skylineText(read as Exclude<typeof read, string>))).toEqual(read);
  });

  it("says which line is wrong", () => {
    expect(typedSkyline("95, 6.5\nsteep")).toContain("Line 2");
  });
});

describe("a pasted tide", () => {
  it("is none where nothing stands", () => expect(typedTide("  ")).toBeNull());
  it("says what it needs", () => {
    expect(typedTide("{")).toContain("no JSON");
    expect(typedTide("{}")).toContain("constituents");
  });
});
