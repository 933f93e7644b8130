import { describe, expect, it } from "vitest";

import { typedValue } from "./typed";

describe("what is typed on a chip", () => {
  it.each([
    ["f/11", 11],
    ["f 5.6", 5.6],
    ["5,6", 5.6],
    ["1/125", 1 / 125],
    ["1/8 s", 1 / 8],
    ["2 min 8 s", 128],
    ["2 min", 120],
    ["0.8 m", 0.8],
    ["70 mm", 70],
    ["ISO 400", 400],
  ])("reads %s", (text, value) => expect(typedValue(text)).toBeCloseTo(value, 9));

  it("reads infinity as no distance", () => expect(typedValue("inf")).toBeNull());

  it.each(["", "eleven", "-3", "0", "1/0/3"])("refuses %j", (text) => expect(typedValue(text)).toBeUndefined());
});
