import { memo } from "react";

import { paint } from "../theme/system";

const WIDE = 130;
const TALL = 44;
/** Places of drops in the strip, shares of its sides: scattered, and the same every time. */
const DROPS = [
  [0.06, 0.24],
  [0.17, 0.68],
  [0.29, 0.36],
  [0.41, 0.82],
  [0.5, 0.16],
  [0.58, 0.58],
  [0.7, 0.3],
  [0.79, 0.74],
  [0.9, 0.48],
  [0.97, 0.18],
] as const;

/** What a look is at this distance and lens: drops drawn as long as they travel, fading as they spread. */
export const LookStrip = memo(function LookStrip({ streak, name }: { streak: number; name: string }) {
  // The strip is one frame height tall; water crosses it from left to right.
  const long = Math.max(streak * TALL, 1.5);
  const faint = Math.max(0.12, 1 / (1 + long / 40));
  return (
    <svg
      width={WIDE}
      height={TALL}
      viewBox={`0 0 ${WIDE} ${TALL}`}
      role="img"
      aria-label={`${name}: streaks of ${streak.toFixed(2)} frame heights`}
      style={{ background: paint("panel"), border: `1px solid ${paint("line")}` }}
    >
      {DROPS.map(([x, y], i) => (
        <path
          key={i}
          d={`M${x * WIDE - long / 2} ${y * TALL}q${long / 2} ${Math.min(long * 0.05, 4)} ${long} 0`}
          stroke={paint("slate")}
          strokeWidth={2.2 + Math.min(long / 30, 5)}
          strokeLinecap="round"
          fill="none"
          opacity={faint}
        />
      ))}
    </svg>
  );
});
