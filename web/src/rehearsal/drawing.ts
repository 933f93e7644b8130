import { useEffect, useMemo, useState } from "react";

import { api, ask } from "../api/client";
import type { Change, Mishap, FrameOut, ProofOut, Scene } from "../api/types";

/** What is to be drawn: a scene after changes, with what goes wrong in it on purpose. */
export interface Subject {
  scene: Scene;
  changes: Change[];
  mishaps: Mishap[];
}

export interface Piece {
  x: number;
  y: number;
  across: number;
  down: number;
}

interface FrameWanted {
  number?: number | undefined;
  longest_px: number;
  piece?: Piece | undefined;
  shutter_s?: number | undefined;
  aperture_n?: number | undefined;
}

export const planOf = async (subject: Subject, signal?: AbortSignal) =>
  await ask(api.POST("/api/rehearsal", { body: subject, ...(signal ? { signal } : {}) }));

export const frameOf = async (subject: Subject, wanted: FrameWanted, signal?: AbortSignal): Promise<FrameOut> =>
  await ask(api.POST("/api/rehearsal/frame", { body: { ...subject, ...wanted }, ...(signal ? { signal } : {}) }));

export const proofOf = async (
  subject: Subject,
  wanted: { longest_px: number; piece?: Piece | undefined },
  signal?: AbortSignal,
): Promise<ProofOut> =>
  await ask(api.POST("/api/rehearsal/proof", { body: { ...subject, ...wanted }, ...(signal ? { signal } : {}) }));

/** Of a picture that is looked at as a whole. */
export const LONGEST_PX = 1200;
export const within = (share: number) => Math.min(Math.max(share, 0), 1);
export const asImage = (jpeg: string) => `data:image/jpeg;base64,${jpeg}`;
export const asMask = (png: string) => `url(data:image/png;base64,${png})`;

const AGAIN_MS = 900;

/** Wait a little; nothing more is wanted when it was given up meanwhile. */
const rest = (ms: number, signal: AbortSignal) =>
  new Promise<void>((done, left) => {
    const timer = window.setTimeout(done, ms);
    signal.addEventListener("abort", () => (window.clearTimeout(timer), left(new DOMException("given up", "AbortError"))));
  });

/**
 * The frames with these numbers, one after the other as they are drawn. A change begins anew: what is on its way is given up.
 * One that the server is too busy for is asked for again. Without a subject nothing is drawn.
 */
export function useFramesInTurn(subject: Subject | null, numbers: readonly number[], longest_px: number) {
  const [state, setState] = useState<{ of: Subject; frames: ReadonlyMap<number, FrameOut>; error: unknown }>();
  const [again, setAgain] = useState(0);
  const key = numbers.join(" ");
  useEffect(() => {
    const stop = new AbortController();
    const made = new Map<number, FrameOut>();
    if (!subject) return undefined;
    const run = async () => {
      for (const number of key.split(" ").filter(Boolean).map(Number)) {
        for (;;) {
          try {
            made.set(number, await frameOf(subject, { number, longest_px }, stop.signal));
            if (stop.signal.aborted) return;
            setState({ of: subject, frames: new Map(made), error: null });
            break;
          } catch (error) {
            if (stop.signal.aborted) return;
            if ((error as { unreachable?: boolean }).unreachable !== true) {
              setState({ of: subject, frames: new Map(made), error });
              return;
            }
            await rest(AGAIN_MS, stop.signal);
          }
        }
      }
    };
    void run().catch(() => undefined);
    return () => stop.abort();
  }, [subject, key, longest_px, again]);
  return useMemo(
    () => ({
      frames: state?.of === subject ? state.frames : new Map<number, FrameOut>(),
      error: state?.of === subject ? state.error : null,
      retry: () => setAgain((n) => n + 1),
    }),
    [state, subject],
  );
}
