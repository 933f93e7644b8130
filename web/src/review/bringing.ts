import { useCallback, useRef, useState } from "react";

import { api, ApiError, ask, wordsOf } from "../api/client";
import { renew } from "../api/queries";
import { freshId } from "../shell/freshId";

export interface Bringing {
  done: number;
  whole: number;
  fresh: number;
  known: number;
  /** How many sidecars judged a picture. */
  judged: number;
  refused: { name: string; why: string }[];
  going: boolean;
}

const NONE: Bringing = { done: 0, whole: 0, fresh: 0, known: 0, judged: 0, refused: [], going: false };
const AT_ONCE = 2;

const PATIENCE = 3;
const AGAIN_MS = 2000;

/** One file to the server; where it does not answer, some times again: the same file is kept once. */
async function bring(file: File) {
  for (let tries = 1; ; tries += 1) {
    try {
      return await send(file);
    } catch (error) {
      if (!(error instanceof ApiError) || !error.unreachable) throw error;
      if (tries === PATIENCE) throw new Error("It could not be sent. Bring this one in again.");
      await new Promise((done) => window.setTimeout(done, AGAIN_MS));
    }
  }
}

const isSidecar = (file: File) => file.name.toLowerCase().endsWith(".xmp");

/** A sidecar to the server: it says how good its picture is, which must be there before. */
async function sendSidecar(file: File) {
  await ask(
    api.PUT("/api/pictures/sidecar", {
      params: { query: { name: file.name } },
      body: file as never,
      bodySerializer: (body: unknown) => body as Blob,
      headers: { "Content-Type": "application/rdf+xml" },
    } as never),
  );
  return { known: false, sidecar: true };
}

async function send(file: File) {
  if (isSidecar(file)) return await sendSidecar(file);
  return await ask(
    api.PUT("/api/pictures/{id}", {
      params: { path: { id: freshId() }, query: { name: file.name } },
      body: file as never,
      bodySerializer: (body: unknown) => body as Blob,
      headers: { "Content-Type": file.type || "application/octet-stream" },
    } as never),
  );
}

/** Brings pictures in, some at a time: a bad one is named and the rest goes on. */
export function useBringing() {
  const [state, setState] = useState(NONE);
  const waiting = useRef<File[]>([]);
  const sidecars = useRef<File[]>([]);
  const working = useRef(0);

  const work = useCallback(async () => {
    working.current += 1;
    const next = () => {
      // Sidecars go when every picture is there that they may be for.
      if (waiting.current.length === 0 && working.current === 1) waiting.current.push(...sidecars.current.splice(0));
      return waiting.current.shift();
    };
    for (let file = next(); file; file = next()) {
      const one = file;
      try {
        const made = await bring(one);
        const [fresh, known, judged] = "sidecar" in made ? [0, 0, 1] : made.known ? [0, 1, 0] : [1, 0, 0];
        setState((now) => ({
          ...now,
          done: now.done + 1,
          fresh: now.fresh + fresh,
          known: now.known + known,
          judged: now.judged + judged,
        }));
      } catch (error) {
        const why = error instanceof ApiError ? wordsOf(error.problem) : (error as Error).message;
        setState((now) => ({ ...now, done: now.done + 1, refused: [...now.refused, { name: one.name, why }] }));
      }
    }
    working.current -= 1;
    if (working.current === 0) {
      setState((now) => ({ ...now, going: false }));
      void renew("pictures", "matches");
    }
  }, []);

  const add = (files: readonly File[]) => {
    waiting.current.push(...files.filter((one) => !isSidecar(one)));
    sidecars.current.push(...files.filter(isSidecar));
    setState((now) => (now.going ? { ...now, whole: now.whole + files.length } : { ...NONE, whole: files.length, going: true }));
    for (let k = working.current; k < AT_ONCE; k += 1) void work();
  };
  return { ...state, add };
}
