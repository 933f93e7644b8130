import { queryOptions, useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";

import { api, ApiError, ask, problemOf } from "../api/client";
import type { Mishap, SequenceOut } from "../api/types";
import { freshId } from "../shell/freshId";
import type { useCarryOut } from "./useCarryOut";

const LOOK_MS = 400;
const AGAIN_MS = 2500;
const BUSY_TIMES = 15;

const wait = (ms: number) => new Promise((done) => window.setTimeout(done, ms));

const cameraQuery = (sequence: string) =>
  queryOptions({
    queryKey: ["camera", sequence],
    queryFn: () => ask(api.GET("/api/camera", { params: { query: { sequence_id: sequence } } })),
    retry: false,
    staleTime: 5_000,
  });

interface Asked {
  id: string;
  number: number;
}

/** Let the camera take the frames: it opens when the countdown does, and goes on by itself where no hands are needed. */
export function useCamera(sequence: SequenceOut, run: ReturnType<typeof useCarryOut>) {
  const [on, setOn] = useState(false);
  const [goesOn, setGoesOn] = useState(true);
  const [mishap, setMishap] = useState<Mishap | null>(null);
  const [clockOff, setClockOff] = useState(0);
  const [trouble, setTrouble] = useState<string>();
  const [coming, setComing] = useState<Asked[]>([]);
  const [last, setLast] = useState<Asked>();
  const query = useQuery(cameraQuery(sequence.id));
  const { phase, frame, progress } = run;
  const take = progress.takeId;
  const asked = useRef("");
  const gone = useRef(false);
  const now = useRef(run);
  useEffect(() => {
    now.current = run;
  });
  useEffect(() => {
    gone.current = false;
    return () => {
      gone.current = true;
    };
  }, []);

  /** Nothing was exposed: the frame waits to be started again. */
  const back = useCallback((number: number) => now.current.takeBack(number), []);

  const follow = useCallback(
    async (one: Asked) => {
      const body = {
        sequence_id: sequence.id,
        take_id: take,
        number: one.number,
        mishaps: mishap ? [mishap] : [],
        clock_off_s: clockOff,
      };
      let begun = false;
      let busy = 0;
      while (!gone.current) {
        try {
          const { state } = await ask(api.PUT("/api/camera/frames/{id}", { params: { path: { id: one.id } }, body }));
          begun = true;
          setTrouble(undefined);
          if (state === "kept") {
            setLast(one);
            break;
          }
          await wait(LOOK_MS);
        } catch (error) {
          const problem = problemOf(error);
          if (problem.type === "/problems/camera-busy" && busy < BUSY_TIMES) {
            busy += 1;
            await wait(LOOK_MS / 2);
            continue;
          }
          setTrouble(problem.detail);
          if (!begun && error instanceof ApiError && !error.unreachable) {
            back(one.number);
            break;
          }
          // What it has exposed stays on its card: it is asked for until it comes.
          await wait(AGAIN_MS);
        }
      }
      setComing((all) => all.filter((each) => each.id !== one.id));
    },
    [back, clockOff, mishap, sequence.id, take],
  );

  const moment = `${phase}/${progress.index}/${progress.openedAt}`;
  useEffect(() => {
    if (!on || phase !== "open" || !frame || asked.current === moment) return;
    asked.current = moment;
    const one = { id: freshId(), number: frame.number };
    setComing((all) => [...all, one]);
    void follow(one);
  }, [on, phase, frame, moment, follow]);

  // Once a frame is here the next begins, where nobody's hands are needed for it.
  const idle = on && goesOn && coming.length === 0 && !trouble && phase === "ready" && frame?.hands_off === true;
  const begins = idle && last?.number === frame.number - 1;
  const { start } = run;
  const startNow = useRef(start);
  useEffect(() => {
    startNow.current = start;
  });
  useEffect(() => {
    if (begins) startNow.current();
  }, [begins]);

  return {
    camera: query.data,
    on,
    goesOn,
    mishap,
    clockOff,
    trouble,
    coming,
    last,
    turn: () => {
      setOn(!on);
      setTrouble(undefined);
    },
    setGoesOn,
    setMishap,
    setClockOff,
    /** Close the shutter of what is being exposed. */
    stop: () => {
      for (const one of coming) {
        ask(api.DELETE("/api/camera/frames/{id}", { params: { path: { id: one.id } } })).catch((error: unknown) =>
          setTrouble(problemOf(error).detail),
        );
      }
    },
    /** The person does it again by hand: nothing begins by itself until a frame has come. */
    pause: () => setLast(undefined),
  };
}
