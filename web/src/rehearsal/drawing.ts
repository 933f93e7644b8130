import { useEffect, useMemo, useRef, useState } from "react";

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

export interface FrameWanted {
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
const BETWEEN_MS = 50;

/** Wait a little; nothing more is wanted when it was given up meanwhile. */
const rest = (ms: number, signal: AbortSignal) =>
  new Promise<void>((done, left) => {
    const timer = window.setTimeout(done, ms);
    signal.addEventListener("abort", () => (window.clearTimeout(timer), left(new DOMException("given up", "AbortError"))));
  });

/**
 * What is wanted, drawn one after the other, by its place in the list; from the place that is looked at on, then the rest. A
 * change begins anew: what is on its way is given up.
 * What the server is too busy for is asked for again. Without a subject nothing is drawn.
 */
export function useDrawnInTurn(subject: Subject | null, wanted: readonly FrameWanted[], looked = 0) {
  const [state, setState] = useState<{ of: Subject; key: string; frames: ReadonlyMap<number, FrameOut>; error: unknown }>();
  const [again, setAgain] = useState(0);
  const key = JSON.stringify(wanted);
  const from = useRef(looked);
  useEffect(() => {
    from.current = looked;
  });
  useEffect(() => {
    if (!subject) return undefined;
    const stop = new AbortController();
    const made = new Map<number, FrameOut>();
    const tell = (error: unknown) => setState({ of: subject, key, frames: new Map(made), error });
    const run = async () => {
      const list = JSON.parse(key) as FrameWanted[];
      const lacking = (place: number) => !made.has(place);
      while (made.size < list.length) {
        const places = [...list.keys()];
        const place = places.slice(from.current).find(lacking) ?? places.find(lacking) ?? 0;
        const one = list[place];
        if (!one) return;
        try {
          made.set(place, await frameOf(subject, one, stop.signal));
          if (stop.signal.aborted) return;
          tell(null);
          // So that what is looked at closely meanwhile gets its turn.
          await rest(BETWEEN_MS, stop.signal);
        } catch (error) {
          if (stop.signal.aborted) return;
          if ((error as { unreachable?: boolean }).unreachable !== true) {
            tell(error);
            return;
          }
          await rest(AGAIN_MS, stop.signal);
        }
      }
    };
    void run().catch(() => undefined);
    return () => stop.abort();
  }, [subject, key, again]);
  return useMemo(() => {
    const fresh = state !== undefined && state.of === subject && state.key === key;
    return {
      frames: fresh ? state.frames : NOTHING,
      /** What was drawn before the change, to be shown until the new is there. */
      before: state?.frames ?? NOTHING,
      error: fresh ? state.error : null,
      retry: () => setAgain((n) => n + 1),
    };
  }, [state, subject, key]);
}

const NOTHING: ReadonlyMap<number, FrameOut> = new Map();
