import { useCallback, useEffect, useRef, useState } from "react";

import type { PlannedFrame, Fault, FrameTaken, SequenceOut } from "../api/types";
import type { Clock } from "./clock";
import { tone } from "./signals";
import { forgetKept, keep, mine, readKept } from "../shell/kept";
import { freshId } from "../shell/freshId";

export type Phase = "before" | "ready" | "timer" | "open" | "dark" | "finished";

interface Progress {
  takeId: string;
  startedAt: string | null;
  index: number;
  frames: FrameTaken[];
}

const key = (id: string) => mine(`lucid-ridge/field/${id}`);
const fresh = (): Progress => ({ takeId: freshId(), startedAt: null, index: 0, frames: [] });

function recall(id: string): Progress {
  try {
    const kept = JSON.parse(readKept(key(id)) ?? "null") as Progress | null;
    return kept && Array.isArray(kept.frames) ? kept : fresh();
  } catch {
    return fresh();
  }
}

/** Carrying a sequence out: where one is, what the clock says, and what has been recorded. Survives a reload. */
export function useCarryOut(sequence: SequenceOut, clock: Clock) {
  const planned = sequence.plan.sequence.frames;
  const [progress, setProgress] = useState(() => recall(sequence.id));
  const [phase, setPhase] = useState<Phase>(() =>
    progress.startedAt === null ? "before" : progress.index >= planned.length ? "finished" : "ready",
  );
  const [since, setSince] = useState(0);
  const [now, setNow] = useState(() => clock.now());
  const [flashes, setFlashes] = useState(0);
  const frame: PlannedFrame | undefined = planned[progress.index];
  const openedAt = useRef(0);
  const exposed = useRef(0);
  const pendingFault = useRef<{ fault: Fault | null; note: string }>({ fault: null, note: "" });

  useEffect(() => {
    keep(key(sequence.id), JSON.stringify(progress));
  }, [sequence.id, progress]);

  const enter = useCallback(
    (next: Phase) => {
      const at = clock.now();
      setPhase(next);
      setSince(at);
      setNow(at);
      if (next === "open") {
        openedAt.current = at;
        tone("open");
        setFlashes((n) => n + 1);
      }
    },
    [clock],
  );

  const record = useCallback(
    (status: "done" | "skipped", exposedS: number) => {
      if (!frame) return;
      const { fault, note } = pendingFault.current;
      pendingFault.current = { fault: null, note: "" };
      const taken: FrameTaken = {
        number: frame.number,
        status,
        started_at: new Date(openedAt.current || clock.now()).toISOString(),
        exposed_s: exposedS,
        fault,
        note,
      };
      openedAt.current = 0;
      setProgress((before) => ({ ...before, frames: [...before.frames, taken], index: before.index + 1 }));
      const next = planned[progress.index + 1];
      // The body shoots the rest of its bracket by itself: so does the countdown.
      enter(!next ? "finished" : status === "done" && next.goes_on ? "open" : "ready");
    },
    [frame, clock, enter, planned, progress.index],
  );

  const closeShutter = useCallback(
    (exposedS: number) => {
      tone("close");
      setFlashes((n) => n + 1);
      if (frame && frame.dark_frame_s > 0) {
        exposed.current = exposedS;
        enter("dark");
      } else {
        record("done", exposedS);
      }
    },
    [enter, frame, record],
  );

  // The countdown: each phase ends by itself when its time is over.
  useEffect(() => {
    if (!frame || (phase !== "timer" && phase !== "open" && phase !== "dark")) return undefined;
    const length = phase === "timer" ? frame.timer_s : phase === "dark" ? frame.dark_frame_s : frame.exposure_s;
    return clock.tick(() => {
      const at = clock.now();
      setNow(at);
      if (at - since < length * 1000) return;
      if (phase === "timer") enter("open");
      else if (phase === "open") closeShutter(frame.exposure_s);
      else record("done", exposed.current);
    });
  }, [phase, since, frame, clock, enter, closeShutter, record]);

  const begin = () => {
    setProgress((before) => ({ ...before, startedAt: new Date(clock.now()).toISOString() }));
    enter("ready");
  };
  const start = () => frame && enter(frame.timer_s > 0 ? "timer" : "open");
  const stop = () => {
    if (phase === "timer") enter("ready");
    else if (phase === "open") closeShutter(Math.max((clock.now() - openedAt.current) / 1000, 0.001));
    else if (phase === "dark") record("done", exposed.current);
  };
  const skip = () => record("skipped", 0);
  /** Take the last frame again: repeats have the same number. */
  const repeat = () => {
    setProgress((before) => ({ ...before, index: Math.max(0, before.index - 1) }));
    enter("ready");
  };
  const goTo = (number: number) => {
    setProgress((before) => ({ ...before, index: number - 1 }));
    enter("ready");
  };
  /** Note a fault: of the frame that is on, or of the one just taken. */
  const fault = (what: Fault | null, note: string) => {
    if (phase === "timer" || phase === "open" || phase === "dark" || progress.frames.length === 0) {
      pendingFault.current = { fault: what, note };
      return;
    }
    setProgress((before) => ({
      ...before,
      frames: before.frames.map((one, i) => (i === before.frames.length - 1 ? { ...one, fault: what, note } : one)),
    }));
  };
  const forget = () => forgetKept(key(sequence.id));

  const length = frame ? (phase === "timer" ? frame.timer_s : frame.exposure_s) : 0;
  const gone = Math.max(0, (now - since) / 1000);
  return {
    phase,
    frame,
    progress,
    flashes,
    gone,
    left: Math.max(0, length - gone),
    length,
    begin,
    start,
    stop,
    skip,
    repeat,
    goTo,
    fault,
    forget,
  };
}
