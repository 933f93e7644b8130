import type { Composition } from "../api/types";

/** How the camera is held, as photographers call it. */
export const HELD: Record<Composition["orientation"], string> = { landscape: "landscape", portrait: "portrait" };
export const HOLDS = [
  ["landscape", HELD.landscape],
  ["portrait", HELD.portrait],
] as const;
