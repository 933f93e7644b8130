/** The schools of how sharp is sharp. */
export const STANDARDS = [
  ["print", "print"],
  ["large_print", "large print"],
  ["pixel", "pixel"],
] as const;
