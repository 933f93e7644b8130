import { memo } from "react";

import type { StackPlan } from "../api/types";
import { paint } from "../theme/system";
import { Label } from "./Label";

const WIDE = 600;
const TALL = 110;
const LEFT = 70;
const RIGHT = 40;

/** The slices of a close-up stack over the subject from the side, the camera at the left. */
export const StackOutline = memo(function StackOutline({ plan }: { plan: StackPlan }) {
  const x = (share: number) => LEFT + share * (WIDE - LEFT - RIGHT);
  const middle = TALL / 2;
  return (
    <svg
      viewBox={`0 0 ${WIDE} ${TALL + 18}`}
      width="100%"
      role="img"
      aria-label={`${plan.frames} slices over the subject from front to back`}
      data-testid="stack-outline"
    >
      {plan.slices.map((slice, i) => (
        <rect
          key={i}
          x={Math.max(x(slice.front), 2)}
          y={i % 2 ? 14 : 6}
          width={Math.max(Math.min(x(slice.back), WIDE) - Math.max(x(slice.front), 2), 1)}
          height={TALL - (i % 2 ? 28 : 12)}
          fill={paint("mossFaint")}
          stroke={paint("moss")}
          strokeWidth="0.8"
          opacity="0.75"
        />
      ))}
      <path
        d={[
          `M${x(0)} ${middle}C${x(0.02)} ${middle - 34} ${x(0.4)} ${middle - 40} ${x(0.62)} ${middle - 26}`,
          `S${x(0.98)} ${middle - 10} ${x(1)} ${middle}C${x(0.95)} ${middle + 16} ${x(0.7)} ${middle + 20} ${x(0.45)} ${middle + 30}`,
          `S${x(0.02)} ${middle + 24} ${x(0)} ${middle}Z`,
        ].join("")}
        fill="none"
        stroke={paint("ink")}
        strokeWidth="2"
      />
      {plan.slices.map((slice, i) => (
        <path key={i} d={`M${x(slice.focus)} ${middle - 6}v12`} stroke={paint("ink")} strokeWidth="1" />
      ))}
      <path d={`M8 ${middle - 11}h22v-5h14v32h-14v-5h-22Z`} fill={paint("panel")} stroke={paint("ink")} strokeWidth="1.4" />
      <Label x={x(0)} y={TALL + 14} size={11} textAnchor="middle" fill={paint("muted")} words>
        front
      </Label>
      <Label x={x(1)} y={TALL + 14} size={11} textAnchor="middle" fill={paint("muted")} words>
        back
      </Label>
    </svg>
  );
});
