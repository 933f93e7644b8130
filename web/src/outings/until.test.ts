import { expect, test } from "vitest";

import { until } from "./until";

test.each([
  [0, "0:00 min"],
  [59_999, "0:59 min"],
  [61_000, "1:01 min"],
  [7_199_000, "119:59 min"],
  [7_200_000, "2 h 00 min"],
  [172_799_000, "47 h 59 min"],
  [172_800_000, "2 days 0 h"],
  [-30_000, "0:00 min"],
  [-60_000, "1 min late"],
  [-3_600_000, "60 min late"],
])("in %i ms", (ahead, said) => {
  expect(until(1_000_000_000 + ahead, 1_000_000_000)).toBe(said);
});
