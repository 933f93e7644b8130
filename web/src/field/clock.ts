import { readKept } from "../shell/kept";

/**
 * The field's clock. Real time, unless this browser holds a rate under "lucid-ridge/clock-rate":
 * then time runs that many times faster, for rehearsals at home and for tests.
 */
export interface Clock {
  /** Milliseconds since 1970, as this clock counts them. While a page is open it goes on evenly, whatever the device's clock is set to. */
  now(): number;
  /** Call often enough to draw a countdown; returns how to stop. */
  tick(call: () => void): () => void;
  /** Call at an instant of this clock, also while the page is out of sight; returns how to call it off. */
  at(instant: number, call: () => void): () => void;
  readonly rate: number;
}

let worker: Worker | undefined;
let last = 0;
const waiting = new Map<number, () => void>();

function alarm(inMs: number, call: () => void): () => void {
  if (typeof Worker === "undefined") {
    const timer = window.setTimeout(call, inMs);
    return () => window.clearTimeout(timer);
  }
  if (!worker) {
    worker = new Worker(new URL("./alarm.worker.ts", import.meta.url), { type: "module" });
    worker.onmessage = ({ data }: MessageEvent<number>) => {
      const due = waiting.get(data);
      waiting.delete(data);
      due?.();
    };
  }
  const id = (last += 1);
  waiting.set(id, call);
  worker.postMessage({ id, at: performance.timeOrigin + performance.now() + inMs });
  return () => {
    waiting.delete(id);
    worker?.postMessage({ id, at: null });
  };
}

/** A clock that is not behind an instant which was there already: a device's clock may have been put back since. */
export function makeClock(notBefore = 0): Clock {
  const kept = Number(readKept("lucid-ridge/clock-rate"));
  const rate = Number.isFinite(kept) && kept > 0 ? kept : 1;
  const start = Math.max(Date.now(), notBefore);
  const from = performance.now();
  const now = () => start + (performance.now() - from) * rate;
  return {
    rate,
    now,
    at: (instant, call) => alarm((instant - now()) / rate, call),
    tick: (call) => {
      const id = window.setInterval(call, 50);
      return () => window.clearInterval(id);
    },
  };
}
