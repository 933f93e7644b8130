import { Box, chakra } from "@chakra-ui/react";
import { memo } from "react";

import type { PlannedFrame } from "../api/types";
import { paint } from "../theme/system";

interface Props {
  frames: PlannedFrame[];
  current?: number | undefined;
  done?: ReadonlySet<number>;
  onPick?: (number: number) => void;
  tall?: string;
}

/** One box for each exposure, as wide as it takes long; slices are set apart, brackets have steps of fill, layers a slant. */
export const SequenceStrip = memo(function SequenceStrip({ frames, current, done, onPick, tall = "34px" }: Props) {
  const longest = Math.max(...frames.map((f) => f.duration_s));
  const all = frames.reduce((sum, f) => sum + f.duration_s, 0);
  const offsets = [...new Set(frames.map((f) => f.offset_stops))].sort((a, b) => a - b);
  return (
    <Box
      display="flex"
      gap={frames.length > 40 ? "0" : "2px"}
      h={tall}
      data-testid="sequence-strip"
      aria-label={`${frames.length} exposures`}
      role="group"
    >
      {frames.map((frame, i) => {
        const before = frames[i - 1];
        const isNewPanel = before !== undefined && before.panel_number !== frame.panel_number;
        const isNewSlice = before !== undefined && (isNewPanel || before.slice_number !== frame.slice_number);
        const level = offsets.length > 1 ? 25 + (75 * (offsets.indexOf(frame.offset_stops) + 1)) / offsets.length : 100;
        const now = frame.number === current;
        const gone = done?.has(frame.number) ?? false;
        const label = `Frame ${frame.number}: ${frame.caption}, ${frame.shutter.text}${gone ? ", done" : ""}`;
        const content = frame.layer ? (
          // A layer is set apart by a slanted half, whatever its colour.
          <svg width="100%" height="100%" viewBox="0 0 10 10" preserveAspectRatio="none" style={{ position: "absolute", inset: 0 }}>
            <path d="M0 10L10 0V10Z" fill={now ? paint("rust") : gone ? paint("moss") : paint("slate")} />
          </svg>
        ) : (
          <Box position="absolute" insetX="0" bottom="0" h={`${level}%`} bg={now ? "rust" : gone ? "moss" : "mossFaint"} />
        );
        const shared = {
          position: "relative",
          flexGrow: Math.max(frame.duration_s / all, (longest / all) * 0.06),
          flexBasis: 0,
          minW: frames.length > 40 ? "2px" : "4px",
          ml:
            before?.layer && !frame.layer
              ? "10px"
              : isNewSlice
                ? frames.length > 40
                  ? isNewPanel
                    ? "4px"
                    : "1px"
                  : isNewPanel && frames.length > frame.panel_count
                    ? "12px"
                    : "6px"
                : "0",
          borderWidth: "1px",
          borderColor: now ? "rust" : "moss",
          overflow: "hidden",
        } as const;
        return onPick ? (
          <chakra.button
            key={frame.number}
            type="button"
            title={label}
            aria-label={label}
            aria-current={now ? "step" : undefined}
            cursor="pointer"
            {...shared}
            onClick={() => onPick(frame.number)}
          >
            {content}
          </chakra.button>
        ) : (
          <Box key={frame.number} title={label} {...shared}>
            {content}
          </Box>
        );
      })}
    </Box>
  );
});
