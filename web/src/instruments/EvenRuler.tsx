import { memo } from "react";

import type { DepthReport } from "../api/types";
import { paint } from "../theme/system";
import { useHatches } from "./hatches";
import { Label } from "./Label";
import { useDrawnWidth } from "./useDrawnWidth";

const PAD = 10;
const AXIS = 78;
const LEVEL = 17;
const LABEL_ROOM = 56;
const TICK_ROOM = 34;
const LETTER = 6.2;

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

type Seen = DepthReport["elements"][number];

const called = (element: Seen) => `${element.name}${element.soft ? ", soft" : ""}`;

/** A row for each element: its bar, and its name behind it, before it, or above it where neither side has room. */
function placeRows(seen: readonly Seen[], x: (p: number) => number, wide: number, from: number) {
  let down = from;
  return seen.map((element) => {
    const left = x(element.left);
    const right = Math.max(x(element.right), left + 4);
    const needed = called(element).length * LETTER + 12;
    const after = right + needed < wide;
    const before = !after && left > needed;
    if (!after && !before) down += LEVEL - 3;
    const bar = down;
    down += LEVEL;
    const name = after
      ? { x: right + 9, y: bar + 9, anchor: "start" as const }
      : before
        ? { x: left - 8, y: bar + 9, anchor: "end" as const }
        : { x: PAD, y: bar - 4, anchor: "start" as const };
    return { element, left, right, bar, name };
  });
}

/** Which marks of the scale have room for their figures; every mark keeps its stroke. */
function roomy(ticks: DepthReport["ticks"], x: (p: number) => number): Set<number> {
  let last = -Infinity;
  return new Set(
    ticks.flatMap(({ position }) => {
      if (x(position) - last < TICK_ROOM) return [];
      last = x(position);
      return [position];
    }),
  );
}

/** The depth axis in even steps of 1/distance: elements as pins and bars, slices as brackets, gaps crossed. */
export const EvenRuler = memo(function EvenRuler({ depth }: { depth: DepthReport }) {
  const { defs, url } = useHatches();
  const [svg, wide] = useDrawnWidth();
  const x = (p: number) => PAD + p * (wide - 2 * PAD);
  const drawn = placeSlices(depth.slices, x);
  const seen = depth.elements.filter((e) => e.in_frame);
  const labelled = roomy(
    [...depth.ticks].sort((a, b) => a.position - b.position),
    x,
  );
  const below = AXIS + 26;
  const rows = placeRows(seen, x, wide, below);
  const tall = (rows.at(-1)?.bar ?? below) + LEVEL + 6;
  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${wide} ${tall}`}
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
              x={Math.min(Math.max(middle, 30), wide - 30)}
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
          {labelled.has(tick.position) ? (
            <Label
              x={x(tick.position)}
              y={AXIS + 18}
              size={11}
              textAnchor={tick.position < 0.03 ? "start" : tick.position > 0.97 ? "end" : "middle"}
              fill={paint("muted")}
            >
              {tick.text}
            </Label>
          ) : null}
        </g>
      ))}
      {depth.hyperfocal_position !== null && depth.hyperfocal_position < 0.99 ? (
        <g>
          <path d={`M${x(depth.hyperfocal_position)} ${AXIS - 6}v12`} stroke={paint("slate")} strokeWidth="2.500" />
          <title>hyperfocal {depth.hyperfocal.text}</title>
        </g>
      ) : null}
      {rows.map(({ element, left, right, bar: y, name }) => (
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
            x={name.x}
            y={name.y}
            size={11}
            textAnchor={name.anchor}
            fill={element.soft ? paint("rust") : paint("ink")}
            bold={element.soft}
            words
          >
            {called(element)}
          </Label>
        </g>
      ))}
    </svg>
  );
});
