import { useState } from "react";
import { forgetKept, keep, readKept } from "../../../shell/kept";

/** What may be known of a thing that is measured, and how that is said. */
export const KNOWNS = [
  ["ground", "it stands on level ground, under the lens by"],
  ["height", "its height is"],
  ["width", "its width is"],
  ["distance", "its distance is"],
] as const;
export type What = (typeof KNOWNS)[number][0];

/** The first things to measure in a photograph, from what needs nothing known to what needs a map. */
export const FIRST: readonly { title: string; text: string; what: What; metres?: number }[] = [
  {
    title: "Something near",
    text: "Take something whose foot is in the picture, on ground as level as yours. How far it is follows from the height of the lens.",
    what: "ground",
  },
  {
    title: "Something whose height you know",
    text: "Farther in. A grown person is about 1.7 m, a door 2 m, a parked car 1.5 m.",
    what: "height",
    metres: 1.7,
  },
  {
    title: "Something far",
    text: "A house, a wood’s edge, a hill. Take its distance from a map.",
    what: "distance",
    metres: 500,
  },
];

const KEY = "lucid-ridge/first-measuring";

/** Lead through the first measuring when this composition is opened. */
export const leadThroughMeasuring = (composition: string) => keep(KEY, `${composition} 0`);

function keptStep(composition: string): number | null {
  const [id, step] = (readKept(KEY) ?? "").split(" ");
  const number = Number(step);
  return id === composition && number in FIRST ? number : null;
}

/** Which of the first things is measured now in a composition, or null when nobody is led; and how to go on or leave. */
export function useFirstMeasuring(composition: string) {
  const [step, setStep] = useState(() => keptStep(composition));
  const to = (next: number | null) => {
    if (next !== null && next in FIRST) keep(KEY, `${composition} ${next}`);
    else forgetKept(KEY);
    setStep(next !== null && next in FIRST ? next : null);
  };
  return [step, to] as const;
}
