import { memo } from "react";

import type { RangeReport } from "../api/types";
import { paint } from "../theme/system";
import { Label } from "./Label";
import { useDrawnWidth } from "./useDrawnWidth";

const PAD = 14;
const SPAN = 15;
const ROW = 15;

/** Elements on a scale of stops against what each frame holds. */
export const StopScale = memo(function StopScale({ range }: { range: RangeReport }) {
  const [svg, wide] = useDrawnWidth();
  const x = (p: number) => PAD + p * (wide - 2 * PAD);
  const axis = 10 + range.frames.length * SPAN;
  const marks = [...range.marks].sort((a, b) => a.position - b.position);
  const tall = axis + 26 + marks.length * ROW;
  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${wide} ${tall}`}
      width="100%"
      role="img"
      aria-label={`Scene range ${range.scene.text}, ${range.held ? "held" : "not held"} by ${range.frames.length} frames`}
    >
      {range.frames.map((frame, i) => (
        <g key={i}>
          <path
            d={`M${x(frame.left)} ${8 + i * SPAN}v-5v2.500H${x(frame.right)}v-2.500v5`}
            fill="none"
            stroke={paint("moss")}
            strokeWidth="2"
          />
          <rect x={x((frame.left + frame.right) / 2) - 20} y={i * SPAN} width="40" height="11" fill={paint("panel")} />
          <Label x={x((frame.left + frame.right) / 2)} y={i * SPAN + 9} size={10.5} textAnchor="middle" fill={paint("ink")}>
            {frame.text}
          </Label>
        </g>
      ))}
      <path d={`M${x(0)} ${axis}H${x(1)}`} stroke={paint("ink")} strokeWidth="1.600" />
      {range.ticks.map(([position, text]) => (
        <g key={position}>
          <path d={`M${x(position)} ${axis}v5`} stroke={paint("ink")} />
          <Label x={x(position)} y={axis + 16} size={10.5} textAnchor="middle" fill={paint("muted")}>
            {text}
          </Label>
        </g>
      ))}
      {marks.map((mark, i) => {
        const lost = mark.clipped || mark.blocked;
        const y = axis + 30 + i * ROW;
        const before = mark.position > 0.6;
        return (
          <g key={mark.id}>
            <path
              d={`M${x(mark.position)} ${axis}V${y - 4}`}
              stroke={lost ? paint("rust") : paint("muted")}
              strokeDasharray="1 3"
            />
            <path d={`M${x(mark.position)} ${y - 9}l4 5l-4 5l-4 -5Z`} fill={lost ? paint("rust") : paint("ink")} />
            <Label
              x={x(mark.position) + (before ? -9 : 9)}
              y={y}
              size={11}
              textAnchor={before ? "end" : "start"}
              fill={lost ? paint("rust") : paint("ink")}
              bold={lost}
              words
            >
              {mark.name} {mark.stops.text}
              {mark.predicted ? " predicted" : ""}
              {mark.clipped ? ", clips" : mark.blocked ? ", blocks up" : ""}
            </Label>
          </g>
        );
      })}
    </svg>
  );
});
