import type { SequenceOut, SpotExposure } from "../api/types";

/** What is set on the spot in place of the plan, out of the spot table. */
export interface Instead {
  words: string;
  aperture: string;
  iso: string;
  filters: string;
  /** The frames of a bracket, in order. */
  bracket: SpotExposure[];
}

/** The sequence with what was found on the spot set in place of the plan; layers stay as they are. */
export function withInstead(sequence: SequenceOut, instead: Instead | null): SequenceOut {
  if (!instead) return sequence;
  const frames = sequence.plan.sequence.frames.map((frame) => {
    const exposure = frame.layer ? undefined : instead.bracket[frame.bracket_number - 1];
    if (!exposure) return frame;
    return {
      ...frame,
      aperture: { ...frame.aperture, text: instead.aperture },
      iso: { ...frame.iso, text: instead.iso },
      filters: instead.filters,
      shutter: { ...frame.shutter, text: exposure.text, value: exposure.seconds },
      exposure_s: exposure.seconds,
      // A body takes its dark frame for as long as the frame itself.
      dark_frame_s: frame.dark_frame_s > 0 ? exposure.seconds : 0,
      bulb: exposure.bulb,
    };
  });
  return { ...sequence, plan: { ...sequence.plan, sequence: { ...sequence.plan.sequence, frames } } };
}
