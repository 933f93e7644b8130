import { expect, test } from "vitest";

import type { Picture } from "../api/types";
import { judgedBy, keywordsOf } from "./keys";

const picture = (part: Partial<Picture>) => ({ rating: null, verdict: null, ...part }) as Picture;

test("figures rate, nothing takes the rating away", () => {
  expect(judgedBy("4", picture({}))).toEqual({ rating: 4 });
  expect(judgedBy("0", picture({ rating: 4 }))).toEqual({ rating: null });
  expect(judgedBy("6", picture({}))).toBeUndefined();
});

test("keeping and rejecting are undone by the same key", () => {
  expect(judgedBy("k", picture({}))).toEqual({ verdict: "keep" });
  expect(judgedBy("k", picture({ verdict: "keep" }))).toEqual({ verdict: null });
  expect(judgedBy("x", picture({ verdict: "keep" }))).toEqual({ verdict: "reject" });
  expect(judgedBy("a", picture({}))).toBeUndefined();
});

test("keywords are parted by commas, each once", () => {
  expect(keywordsOf(" dew ,, low sun,dew, ")).toEqual(["dew", "low sun"]);
  expect(keywordsOf(" , ")).toEqual([]);
  expect(keywordsOf("x".repeat(80))[0]).toHaveLength(64);
});
