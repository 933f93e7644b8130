import type { Picture } from "../api/types";

export type Judged = Partial<Pick<Picture, "rating" | "verdict">>;

const RATES = ["0", "1", "2", "3", "4", "5"];

/** What a key says of a picture; undefined where it says nothing. */
export function judgedBy(key: string, picture: Picture): Judged | undefined {
  if (RATES.includes(key)) return { rating: key === "0" ? null : Number(key) };
  if (key === "k") return { verdict: picture.verdict === "keep" ? null : "keep" };
  if (key === "x") return { verdict: picture.verdict === "reject" ? null : "reject" };
  return undefined;
}

const LONGEST_KEYWORD = 64;

/** Keywords as they were typed: parted by commas, each once. */
export function keywordsOf(text: string): string[] {
  const words = text.split(",").map((one) => one.trim().slice(0, LONGEST_KEYWORD).trim());
  return [...new Set(words.filter(Boolean))];
}
