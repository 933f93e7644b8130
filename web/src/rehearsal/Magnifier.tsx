import { Box } from "@chakra-ui/react";
import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { problemOf, wordsOf } from "../api/client";
import { DrawnPicture, type Marked } from "./DrawnPicture";
import { frameOf, proofOf, type Subject } from "./drawing";

export const PIECE = { across: 380, down: 254 } as const;

interface Props {
  subject: Subject;
  /** Which frame; the merged picture without. */
  number: number | undefined;
  at: readonly [number, number];
  longest_px: number;
  marked: boolean;
}

/** A piece of the picture at the sensor's own pixels: here sharpness is judged, not in the picture as a whole. */
export function Magnifier({ subject, number, at: [x, y], longest_px, marked }: Props) {
  const piece = { x: Number(x.toFixed(4)), y: Number(y.toFixed(4)), ...PIECE };
  const found = useQuery({
    queryKey: ["magnified", subject, number, piece.x, piece.y],
    queryFn: async ({ signal }) => {
      if (number === undefined) {
        const { jpeg, width, height, soft, lost, ghosts } = await proofOf(subject, { longest_px, piece }, signal);
        return { jpeg, width, height, marks: { soft, lost, ghosts } as Marked };
      }
      const { jpeg, width, height, clipped, blocked } = await frameOf(subject, { number, longest_px, piece }, signal);
      return { jpeg, width, height, marks: { clipped, blocked } as Marked };
    },
    placeholderData: keepPreviousData,
    gcTime: 10_000,
  });
  return (
    <Box
      position="relative"
      w={`${PIECE.across}px`}
      maxW="100%"
      borderWidth="1px"
      borderColor="ink"
      style={{ aspectRatio: `${PIECE.across} / ${PIECE.down}` }}
      data-testid="magnifier"
      data-fresh={found.isPlaceholderData || !found.data ? "no" : "yes"}
    >
      {found.data ? (
        <DrawnPicture
          jpeg={found.data.jpeg}
          width={found.data.width}
          height={found.data.height}
          label="A piece of the picture at the sensor’s own pixels"
          marks={marked ? found.data.marks : {}}
          crisp
        />
      ) : found.isError ? (
        <Box role="alert" color="rust" p="3" fontSize="13px">
          {wordsOf(problemOf(found.error))}
        </Box>
      ) : (
        <Box p="3" color="muted" fontSize="13px">
          drawing …
        </Box>
      )}
    </Box>
  );
}
