import { useEffect, useState } from "react";

import { mayTurn, type Position, type Sensed, type Turned, whenMoved, whenTurned } from "./senses";

const SILENT_MS = 4000;

/** Where the device is, from when that was asked for. */
export function usePosition() {
  const [asked, setAsked] = useState(false);
  const [sensed, setSensed] = useState<Sensed<Position>>();
  useEffect(() => {
    if (!asked) return undefined;
    return whenMoved(
      (value) => setSensed({ state: "there", value }),
      (words) => setSensed({ state: "trouble", words }),
    );
  }, [asked]);
  const ask = () => {
    setSensed({ state: "asking" });
    setAsked(true);
  };
  return { sensed, ask, stop: () => setAsked(false) };
}

/** How the device is turned, from when that was asked for. */
export function useTurned() {
  const [asked, setAsked] = useState(false);
  const [sensed, setSensed] = useState<Sensed<Turned>>();
  useEffect(() => {
    if (!asked) return undefined;
    const late = window.setTimeout(
      () => setSensed({ state: "trouble", words: "This device tells neither compass nor tilt: type them." }),
      SILENT_MS,
    );
    const stop = whenTurned((value) => {
      window.clearTimeout(late);
      setSensed({ state: "there", value });
    });
    return () => {
      window.clearTimeout(late);
      stop();
    };
  }, [asked]);
  const ask = async () => {
    setSensed({ state: "asking" });
    if (await mayTurn().catch(() => false)) setAsked(true);
    else
      setSensed({ state: "trouble", words: "This browser may not tell how the device is turned. Allow it, or type the numbers." });
  };
  return { sensed, ask: () => void ask() };
}
