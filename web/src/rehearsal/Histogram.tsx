import { Box } from "@chakra-ui/react";

import { paint } from "../theme/system";

const WIDTH = 256;
const HEIGHT = 72;
const NAMES = ["Red", "Green", "Blue"] as const;

/** How many pixels are how bright, each channel in a row of its own, dark on the left. */
export function Histogram({ heights }: { heights: readonly (readonly number[])[] }) {
  return (
    <Box role="img" aria-label="Histogram of red, green and blue, dark on the left, bright on the right">
      {heights.map((row, channel) => (
        <Box key={NAMES[channel]} display="flex" alignItems="center" gap="8px" aria-hidden="true">
          <Box w="42px" fontSize="12px" color="muted">
            {NAMES[channel]}
          </Box>
          <Box flex="1" borderBottomWidth="1px" borderColor="ink">
            <svg
              viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
              preserveAspectRatio="none"
              width="100%"
              height="34"
              style={{ display: "block" }}
            >
              <path
                d={`M0 ${HEIGHT}${row
                  .map((one, i) => {
                    const y = HEIGHT * (1 - one);
                    return `L${(i / row.length) * WIDTH} ${y}L${((i + 1) / row.length) * WIDTH} ${y}`;
                  })
                  .join("")}L${WIDTH} ${HEIGHT}Z`}
                fill={paint("tone1")}
                stroke={paint("ink")}
                strokeWidth="1"
                vectorEffect="non-scaling-stroke"
              />
            </svg>
          </Box>
        </Box>
      ))}
      <Box display="flex" justifyContent="space-between" pl="50px" fontSize="11.5px" color="muted" aria-hidden="true">
        <span>dark</span>
        <span>bright</span>
      </Box>
    </Box>
  );
}
