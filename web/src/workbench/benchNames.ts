export const BENCHES = [
  ["frame", "Frame"],
  ["light", "Light"],
  ["depth", "Depth"],
  ["exposure", "Exposure"],
  ["ways", "Ways"],
  ["sequence", "Sequence"],
] as const;
export type BenchName = (typeof BENCHES)[number][0];

const KEY = "lucid-ridge/bench";

/** The bench that was open last in this tab. */
export const keptBench = (): BenchName => BENCHES.find(([name]) => name === window.sessionStorage.getItem(KEY))?.[0] ?? "depth";

export const keepBench = (bench: BenchName) => window.sessionStorage.setItem(KEY, bench);
