import { readKept } from "../shell/kept";

/**
 * The field's clock. Real time, unless this browser holds a rate under "lucid-ridge/clock-rate":
 * then time runs that many times faster, for rehearsals at home and for tests.
 */
export interface Clock {
  /** Milliseconds since 1970, as this clock counts them. */
  now(): number;
  /** Call often enough to draw a countdown; returns how to stop. */
  tick(call: () => void): () => void;
  readonly rate: number;
}

export function makeClock(): Clock {
  const kept = Number(readKept("lucid-ridge/clock-rate"));
  const rate = Number.isFinite(kept) && kept > 0 ? kept : 1;
  const start = Date.now();
  return {
    rate,
    now: () => start + (Date.now() - start) * rate,
    tick: (call) => {
      const id = window.setInterval(call, 50);
      return () => window.clearInterval(id);
    },
  };
}
