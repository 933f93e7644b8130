import { memo } from "react";

import type { DepthReport } from "../api/types";
import { paint } from "../theme/system";
import { useHatches } from "./hatches";
import { Label } from "./Label";

const WIDE = 600;
const PAD = 10;
const AXIS = 78;
const LEVEL = 17;
const LABEL_ROOM = 56;

interface Drawn {
  left: number;
  right: number;
  top: number;
  middle: number;
  text: string;
}

/** Neighbouring slices at different heights; a label only where there is room for it. */
function placeSlices(slices: DepthReport["slices"], x: (p: number) => number): Drawn[] {
  const labelled: [number, number] = [Infinity, Infinity];
  return slices.map((slice, i) => {
    const level = i % 2 === 0 ? 0 : 1;
    const left = x(slice.left);
    const middle = x(slice.focus);
    const fits = Math.abs(labelled[level] - middle) > LABEL_ROOM;
    if (fits) labelled[level] = middle;
    return { left, right: Math.max(x(slice.right), left + 3), top: 20 + level * 20, middle, text: fits ? slice.text : "" };
  });
}

/** The depth axis in even steps of 1/distance: elements as pins and bars, slices as brackets, gaps crossed. */
export const EvenRuler = memo(function EvenRuler({ depth }: { depth: DepthReport }) {
  const { defs, url } = useHatches();
  const x = (p: number) => PAD + p * (WIDE - 2 * PAD);
  const drawn = placeSlices(depth.slices, x);
  const seen = depth.elements.filter((e) => e.in_frame);
  const below = AXIS + 26;
  const tall = below + seen.length * LEVEL + 6;
  return (
    <svg
      viewBox={`0 0 ${WIDE} ${tall}`}
      width="100%"
      role="img"
      aria-label={`Even ruler of depth: ${depth.slices.length} slices, ${depth.gaps.length} gaps`}
      data-testid="even-ruler"
    >
      {defs}
      {drawn.map(({ left, right, top }, i) => (
        <rect key={i} x={left} y={top} width={right - left} height={AXIS - top} fill={paint("mossFaint")} opacity="0.6" />
      ))}
      {drawn.map(({ left, right, top, middle, text }, i) => (
        <g key={i}>
          <path d={`M${left} ${AXIS}V${top}H${right}V${AXIS}`} fill="none" stroke={paint("moss")} strokeWidth="1.6" />
          <path d={`M${middle} ${top}V${AXIS}`} stroke={paint("moss")} strokeWidth="1" strokeDasharray="3 3" />
          <path d={`M${middle} ${top + 3}l4.500 -5h-9Z`} fill={paint("moss")} />
          {text ? (
            <Label
              x={Math.min(Math.max(middle, 30), WIDE - 30)}
              y={top - 5}
              size={11}
              textAnchor="middle"
              fill={paint("ink")}
              halo={paint("panel")}
            >
              {text}
            </Label>
          ) : null}
        </g>
      ))}
      {depth.gaps.map((gap, i) => (
        <g key={i}>
          <rect
            x={x(gap.left)}
            y={AXIS - 18}
            width={Math.max(x(gap.right) - x(gap.left), 4)}
            height="18"
            fill={url("gap")}
            stroke={paint("rust")}
          />
          <title>{`soft from here to here, up to ${gap.blur.text} of defocus`}</title>
        </g>
      ))}
      <path d={`M${x(0)} ${AXIS}H${x(1)}`} stroke={paint("ink")} strokeWidth="2" />
      {depth.ticks.map((tick) => (
        <g key={tick.position}>
          <path d={`M${x(tick.position)} ${AXIS}v6`} stroke={paint("ink")} />
          <Label
            x={x(tick.position)}
            y={AXIS + 18}
            size={11}
            textAnchor={tick.position < 0.03 ? "start" : tick.position > 0.97 ? "end" : "middle"}
            fill={paint("muted")}
          >
            {tick.text}
          </Label>
        </g>
      ))}
      {depth.hyperfocal_position !== null && depth.hyperfocal_position < 0.99 ? (
        <g>
          <path d={`M${x(depth.hyperfocal_position)} ${AXIS - 6}v12`} stroke={paint("slate")} strokeWidth="2.500" />
          <title>hyperfocal {depth.hyperfocal.text}</title>
        </g>
      ) : null}
      {seen.map((element, i) => {
        const left = x(element.left);
        const right = Math.max(x(element.right), left + 4);
        const y = below + i * LEVEL;
        const after = right + 6 < WIDE - 190;
        return (
          <g key={element.id}>
            <rect
              x={left}
              y={y}
              width={right - left}
              height="9"
              fill={element.soft ? paint("rustFaint") : paint("tone1")}
              stroke={element.soft ? paint("rust") : paint("edge")}
              strokeWidth={element.soft ? 1.6 : 0.6}
            />
            <circle
              cx={right}
              cy={y + 4.5}
              r="4"
              fill={element.must_be_sharp ? paint("ink") : paint("panel")}
              stroke={paint("ink")}
            />
            <Label
              x={after ? right + 9 : left - 8}
              y={y + 9}
              size={11}
              textAnchor={after ? "start" : "end"}
              fill={element.soft ? paint("rust") : paint("ink")}
              bold={element.soft}
              words
            >
              {element.name}
              {element.soft ? ", soft" : ""}
            </Label>
          </g>
        );
      })}
    </svg>
  );
});
