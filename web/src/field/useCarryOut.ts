import { useCallback, useEffect, useRef, useState } from "react";

import type { PlannedFrame, Fault, FrameTaken, SequenceOut } from "../api/types";
import { forgetSafe, keepSafe, readSafe } from "../board/store";
import { freshId } from "../shell/freshId";
import type { Clock } from "./clock";
import type { Instead } from "./instead";
import { readySound, signal } from "./signals";

export type Phase = "before" | "ready" | "timer" | "open" | "dark" | "finished";

export interface Progress {
  takeId: string;
  /** When one was there and began to set up, where that was said. */
  arrivedAt: string | null;
  startedAt: string | null;
  index: number;
  frames: FrameTaken[];
  phase: Phase;
  /** When the phase began, and when the shutter opened, in milliseconds since 1970. */
  since: number;
  openedAt: number;
  /** How long the frame was exposed whose dark frame is being taken. */
  exposed: number;
  fault: { fault: Fault | null; note: string };
  /** What was tried against softness, in words. */
  tried: string[];
  instead: Instead | null;
}

const key = (id: string) => `lucid-ridge/field/${id}`;
const NO_FAULT = { fault: null, note: "" };
const fresh = (): Progress => ({
  takeId: freshId(),
  arrivedAt: null,
  startedAt: null,
  index: 0,
  frames: [],
  phase: "before",
  since: 0,
  openedAt: 0,
  exposed: 0,
  fault: NO_FAULT,
  tried: [],
  instead: null,
});

/** How far a sequence is on this device, as it was kept; one kept by an earlier version waits at its frame. */
export function recall(id: string): Progress {
  try {
    const kept = JSON.parse(readSafe(key(id)) ?? "null") as Progress | null;
    if (!kept || !Array.isArray(kept.frames)) return fresh();
    const phase: Phase = kept.startedAt === null ? "before" : "ready";
    return Object.assign(fresh(), { phase }, kept);
  } catch {
    return fresh();
  }
}

export const keepProgress = (id: string, progress: Progress) => keepSafe(key(id), JSON.stringify(progress));

/** How long a phase of a frame lasts, seconds. */
const lasts = (frame: PlannedFrame, phase: Phase) =>
  phase === "timer" ? frame.timer_s : phase === "dark" ? frame.dark_frame_s : frame.exposure_s;

/** Carrying a sequence out: where one is, what the clock says, and what has been recorded. Survives a crash. */
export function useCarryOut(sequence: SequenceOut, clock: Clock) {
  const planned = sequence.plan.sequence.frames;
  const [progress, setProgress] = useState(() => recall(sequence.id));
  const [now, setNow] = useState(() => clock.now());
  const [flashes, setFlashes] = useState(0);
  /** How many frames are on the disk of this device. */
  const [kept, setKept] = useState(progress.frames.length);
  const left = useRef(false);
  const at = useRef(progress);
  const phase = progress.index >= planned.length && progress.startedAt !== null ? "finished" : progress.phase;
  const frame: PlannedFrame | undefined = planned[progress.index];

  const put = useCallback(
    (next: Progress) => {
      at.current = next;
      setProgress(next);
      setNow(clock.now());
      if (!left.current) void keepProgress(sequence.id, next).then(() => setKept(next.frames.length));
    },
    [clock, sequence.id],
  );

  const show = useCallback((what: "open" | "close") => {
    signal(what);
    setFlashes((n) => n + 1);
  }, []);

  /** Into a phase, as from an instant: one ends when its time is over, however late that is noticed. */
  const enter = useCallback(
    (next: Phase, since: number, part: Partial<Progress> = {}) => {
      const opened = next === "open" ? { openedAt: since } : {};
      put({ ...at.current, ...part, ...opened, phase: next, since });
      if (next === "open") show("open");
    },
    [put, show],
  );

  const record = useCallback(
    (status: "done" | "skipped", exposedS: number, since: number) => {
      const before = at.current;
      const now = planned[before.index];
      if (!now) return;
      const taken: FrameTaken = {
        number: now.number,
        status,
        started_at: new Date(before.openedAt || since).toISOString(),
        exposed_s: exposedS,
        ...before.fault,
      };
      const next = planned[before.index + 1];
      // The body shoots the rest of its bracket by itself: so does the countdown.
      enter(!next ? "finished" : status === "done" && next.goes_on ? "open" : "ready", since, {
        frames: [...before.frames, taken],
        index: before.index + 1,
        openedAt: 0,
        fault: NO_FAULT,
      });
    },
    [enter, planned],
  );

  const closeShutter = useCallback(
    (exposedS: number, since: number) => {
      show("close");
      if (frame && frame.dark_frame_s > 0) enter("dark", since, { exposed: exposedS });
      else record("done", exposedS, since);
    },
    [enter, frame, record, show],
  );

  const running = phase === "timer" || phase === "open" || phase === "dark";
  // The countdown: each phase ends by itself when its time is over.
  const { since } = progress;
  useEffect(() => {
    if (!frame || !running) return undefined;
    const ends = since + lasts(frame, phase) * 1000;
    const stopDrawing = clock.tick(() => setNow(clock.now()));
    const callOff = clock.at(ends, () => {
      if (phase === "timer") enter("open", ends);
      else if (phase === "open") closeShutter(frame.exposure_s, ends);
      else record("done", at.current.exposed, ends);
    });
    return () => {
      stopDrawing();
      callOff();
    };
  }, [phase, running, since, frame, clock, enter, closeShutter, record]);

  const arrive = () => put({ ...at.current, arrivedAt: new Date(clock.now()).toISOString() });
  const notThere = () => put({ ...at.current, arrivedAt: null });
  const begin = () => {
    readySound();
    enter("ready", clock.now(), { startedAt: new Date(clock.now()).toISOString() });
  };
  const start = () => {
    readySound();
    if (frame) enter(frame.timer_s > 0 ? "timer" : "open", clock.now());
  };
  const stop = () => {
    if (phase === "timer") enter("ready", clock.now());
    else if (phase === "open") closeShutter(Math.max((clock.now() - progress.openedAt) / 1000, 0.001), clock.now());
    else if (phase === "dark") record("done", progress.exposed, clock.now());
  };
  const skip = () => record("skipped", 0, clock.now());
  const goTo = (number: number) => enter("ready", clock.now(), { index: number - 1 });
  /** Take the last frame again: repeats have the same number. */
  const repeat = () => goTo(Math.max(1, progress.index));
  /** A frame that was not exposed after all: what was noted of it goes, and it waits to be started. */
  const takeBack = (number: number) => {
    const { frames } = at.current;
    const last = frames.at(-1);
    enter("ready", clock.now(), { index: number - 1, openedAt: 0, frames: last?.number === number ? frames.slice(0, -1) : frames });
  };
  /** Note a fault: of the frame that is on, or of the one just taken. */
  const fault = (what: Fault | null, note: string) => {
    if (running || progress.frames.length === 0) {
      put({ ...progress, fault: { fault: what, note } });
      return;
    }
    const frames = progress.frames.map((one, i) => (i === progress.frames.length - 1 ? { ...one, fault: what, note } : one));
    put({ ...progress, frames });
  };
  const forget = () => {
    left.current = true;
    void forgetSafe(key(sequence.id));
  };

  const length = frame ? lasts(frame, running ? phase : "open") : 0;
  const gone = Math.max(0, (now - since) / 1000);
  return {
    phase,
    running,
    frame,
    progress,
    kept,
    flashes,
    gone,
    left: Math.max(0, length - gone),
    length,
    arrive,
    notThere,
    begin,
    start,
    stop,
    skip,
    repeat,
    goTo,
    takeBack,
    fault,
    forget,
  };
}
