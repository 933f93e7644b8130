import { memo } from "react";

import type { SharpnessStudy } from "../api/types";
import { paint } from "../theme/system";
import { Label } from "./Label";
import { useDrawnWidth } from "./useDrawnWidth";

const TALL = 150;
const LEFT = 16;
const FOOT = 26;

/** Worst blur of what must be sharp against f-number: defocus falls, diffraction rises, the allowance across. */
export const SweepPicture = memo(function SweepPicture({
  sweep,
  onPick,
}: {
  sweep: SharpnessStudy["sweep"];
  onPick: (aperture: number) => void;
}) {
  const [svg, wide] = useDrawnWidth();
  const x = (across: number) => LEFT + across * (wide - 2 * LEFT);
  const y = (height: number) => TALL - Math.min(Math.max(height, 0), 1) * (TALL - 12);
  const line = (of: (p: (typeof sweep.points)[number]) => number) =>
    sweep.points.map((p, i) => `${i ? "L" : "M"}${x(p.across).toFixed(1)} ${y(of(p)).toFixed(1)}`).join("");
  const allowed = y(sweep.allowed_height);
  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${wide} ${TALL + FOOT}`}
      width="100%"
      role="group"
      aria-label={`Worst blur by aperture. ${sweep.sentence}`}
      data-testid="sweep"
    >
      <rect x={LEFT} y={allowed} width={wide - 2 * LEFT} height={TALL - allowed} fill={paint("mossFaint")} opacity="0.7" />
      <path d={`M${LEFT} ${allowed}H${wide - LEFT}`} stroke={paint("moss")} strokeDasharray="6 4" />
      <Label x={wide - LEFT - 2} y={allowed - 4} size={11} textAnchor="end" fill={paint("muted")} halo={paint("panel")} words>
        allowed
      </Label>
      <path d={line((p) => p.diffraction_height)} fill="none" stroke={paint("slate")} strokeWidth="1.4" strokeDasharray="2 3" />
      <path d={line((p) => p.height)} fill="none" stroke={paint("ink")} strokeWidth="1.6" />
      {sweep.points.map((p) => (
        <g
          key={p.aperture_n}
          role="button"
          tabIndex={0}
          aria-label={`Set ${p.text}${p.holds ? ", holds" : ""}`}
          style={{ cursor: "pointer" }}
          onClick={() => onPick(p.aperture_n)}
          onKeyDown={(e) => (e.key === "Enter" || e.key === " ") && onPick(p.aperture_n)}
        >
          <rect x={x(p.across) - wide / 55} y="0" width={wide / 27.5} height={TALL + FOOT} fill="transparent" />
          <circle
            cx={x(p.across)}
            cy={y(p.height)}
            r={p.in_use ? 6.5 : 4}
            fill={p.holds ? paint("moss") : paint("panel")}
            stroke={p.holds ? paint("moss") : paint("rust")}
            strokeWidth="1.6"
          />
          {p.in_use ? <path d={`M${x(p.across)} ${y(p.height) + 8}V${TALL}`} stroke={paint("ink")} strokeWidth="1.6" /> : null}
          {p.best ? <path d={`M${x(p.across) - 5} ${y(p.height) - 15}h10l-5 7Z`} fill={paint("ink")} /> : null}
        </g>
      ))}
      <path d={`M${LEFT} ${TALL}H${wide - LEFT}`} stroke={paint("ink")} strokeWidth="1.4" />
      {sweep.points.map((p, i) =>
        p.in_use || (i % 3 === 0 && !sweep.points.some((q, j) => q.in_use && Math.abs(i - j) < 2)) ? (
          <Label
            key={p.text}
            x={x(p.across)}
            y={TALL + 17}
            size={11}
            textAnchor="middle"
            fill={p.in_use ? paint("ink") : paint("muted")}
            bold={p.in_use}
          >
            {p.text}
          </Label>
        ) : null,
      )}
    </svg>
  );
});
