import { useState } from "react";

import { keep, readKept } from "../shell/kept";

const HAND = "lucid-ridge/hand";
const DIM = "lucid-ridge/dim";

/** How dark the screen is made below what the device itself allows: nothing, and three steps. */
export const DIMMED = [0, 0.35, 0.6, 0.78] as const;

/** Which hand holds the phone, and how dark the screen is. */
export function useHands() {
  const [left, setLeft] = useState(() => readKept(HAND) === "left");
  const [dim, setDim] = useState(() => Math.min(Math.max(Number(readKept(DIM)) || 0, 0), DIMMED.length - 1));
  return {
    left,
    dim,
    turnHand: () => {
      keep(HAND, left ? "right" : "left");
      setLeft(!left);
    },
    dimmer: () => {
      const next = (dim + 1) % DIMMED.length;
      keep(DIM, String(next));
      setDim(next);
    },
  };
}
