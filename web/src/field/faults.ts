import type { Fault } from "../api/types";

/** The trade's faults, most frequent in the field first. The server's schema checks that none is unknown. */
export const FAULTS: readonly Fault[] = [
  "wind blur",
  "moved subject",
  "moved camera",
  "focus missed",
  "missed slice",
  "shake",
  "clipped channel",
  "filter forgotten on",
  "filter forgotten off",
  "late for the light",
  "cloud bank",
  "wind on the reflection",
  "lens sprayed",
  "flat battery",
  "full card",
  "access refused",
  "layers merged",
  "stack artefacts",
  "banded sky",
  "vignette",
  "wrong white balance between layers",
];
