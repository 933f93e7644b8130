import type { Composition } from "../api/types";

/** How the camera is held, as photographers call it. */
export const HELD: Record<Composition["orientation"], string> = { level: "landscape", upright: "portrait" };
export const HOLDS = [
  ["level", HELD.level],
  ["upright", HELD.upright],
] as const;
