import { Box, Button, chakra } from "@chakra-ui/react";
import { useMemo } from "react";

import { problemOf, wordsOf } from "../api/client";
import type { StripStep } from "../api/types";
import { asImage, LONGEST_PX, type Subject, useDrawnInTurn } from "./drawing";

const PIECE = { across: 420, down: 300 };
const SMALL_PX = 480;

interface Props {
  subject: Subject;
  of: "shutter_s" | "aperture_n";
  steps: readonly StripStep[];
  /** The place in the frame that is looked at. */
  at: readonly [number, number];
  /** What the scene has now. */
  now: number;
  onTake: (value: number) => void;
}

/** The same place at several shutter times or apertures, as bright each: what each does to the water, or to the depth. */
export function Strip({ subject, of, steps, at, now, onTake }: Props) {
  const wanted = useMemo(
    () =>
      steps.map(({ value }) =>
        // Water is judged in the picture as a whole, sharpness only at the sensor's pixels.
        of === "aperture_n"
          ? { longest_px: LONGEST_PX, piece: { x: at[0], y: at[1], ...PIECE }, aperture_n: value }
          : { longest_px: SMALL_PX, shutter_s: value },
      ),
    [steps, of, at],
  );
  const { frames, error, retry } = useDrawnInTurn(subject, wanted);
  return (
    <Box
      position="absolute"
      inset="0"
      overflowY="auto"
      display="grid"
      gridTemplateColumns="repeat(auto-fill, minmax(230px, 1fr))"
      gap="10px"
      alignContent="start"
      data-testid={`strip-${of}`}
    >
      {error ? (
        <Box role="alert" color="rust" gridColumn="1 / -1">
          {wordsOf(problemOf(error))}{" "}
          <Button size="sm" variant="outline" onClick={retry}>
            Draw again
          </Button>
        </Box>
      ) : null}
      {steps.map(({ value, text }, i) => {
        const frame = frames.get(i);
        const same = Math.abs(Math.log2(value / now)) < 1 / 6;
        return (
          <Box key={value} borderWidth="1px" borderColor={same ? "ink" : "line"} bg="panel">
            <Box position="relative" style={{ aspectRatio: frame ? `${frame.width} / ${frame.height}` : "7 / 5" }}>
              {frame ? (
                <chakra.img src={asImage(frame.jpeg)} alt={`At ${text}`} w="100%" h="100%" display="block" className="lr-drawn" />
              ) : (
                <Box p="3" color="muted" fontSize="13px">
                  drawing …
                </Box>
              )}
            </Box>
            <Box display="flex" alignItems="center" px="8px" py="4px" gap="2">
              <Box fontFamily="mono" fontWeight="700" flex="1">
                {text}
              </Box>
              {same ? (
                <Box fontSize="12.5px">as you have it</Box>
              ) : (
                <Button size="xs" variant="outline" onClick={() => onTake(value)} aria-label={`Set it: ${text}`}>
                  Set it
                </Button>
              )}
            </Box>
          </Box>
        );
      })}
    </Box>
  );
}
