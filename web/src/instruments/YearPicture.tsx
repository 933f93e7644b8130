import { memo } from "react";

import type { YearPicture as Picture } from "../api/types";
import { paint } from "../theme/system";
import { useHatches } from "./hatches";
import { Label } from "./Label";
import { useDrawnWidth } from "./useDrawnWidth";

const TALL = 190;
const LEFT = 26;
const FOOT = 20;
const HOURS = [0, 3, 6, 9, 12, 15, 18, 21, 24];

type Span = readonly [number, number, number];

/** Rectangles of one kind as one path. */
function cells(spans: readonly Span[], days: number, across: number): string {
  const wide = (across - LEFT) / days;
  return spans
    .map(([day, from, to]) => {
      const high = ((to - from) * TALL).toFixed(1);
      return `M${(LEFT + day * wide).toFixed(2)} ${(from * TALL).toFixed(1)}h${wide.toFixed(2)}v${high}h${(-wide).toFixed(2)}Z`;
    })
    .join("");
}

const FILLS: Record<string, string> = {
  night: "nightfall",
  twilight: "twilight",
  blue: "bluehour",
  golden: "goldlight",
  day: "sunlit",
  shade: "hillshade",
};

interface Props {
  picture: Picture;
  /** Told which day of the picture and which share of the day somebody points at. */
  onPick: (day: number, share: number) => void;
}

/** Twelve months as date by time of day: dark, twilights, direct sun and shade, and the windows on top. */
export const YearPicture = memo(function YearPicture({ picture, onPick }: Props) {
  const { defs, url } = useHatches();
  const { days } = picture;
  const [svg, wide] = useDrawnWidth();
  const x = (day: number) => LEFT + (day / days) * (wide - LEFT);
  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${wide} ${TALL + FOOT}`}
      width="100%"
      role="img"
      aria-label={`Twelve months from ${picture.first_date}, date across and time of day down; ${picture.count} windows ahead`}
      data-testid="year"
      style={{ display: "block", cursor: "crosshair" }}
      onClick={(e) => {
        const box = e.currentTarget.getBoundingClientRect();
        const across = ((e.clientX - box.left) / box.width) * wide;
        const down = ((e.clientY - box.top) / box.height) * (TALL + FOOT);
        if (across >= LEFT && down <= TALL)
          onPick(Math.min(days - 1, Math.floor(((across - LEFT) / (wide - LEFT)) * days)), down / TALL);
      }}
    >
      {defs}
      <rect x={LEFT} width={wide - LEFT} height={TALL} fill={paint("panel")} />
      {picture.spans.map(({ kind, spans }) => {
        const path = cells(spans as Span[], days, wide);
        return (
          <g key={kind}>
            <path d={path} fill={paint(FILLS[kind] ?? "line")} shapeRendering="crispEdges" />
            {kind === "shade" ? <path d={path} fill={url("cast")} /> : null}
          </g>
        );
      })}
      <path d={cells(picture.windows as Span[], days, wide)} fill={paint("rust")} stroke={paint("rust")} strokeWidth="0.8" />
      {HOURS.map((hour) => (
        <g key={hour}>
          <path d={`M${LEFT} ${(hour / 24) * TALL}H${wide}`} stroke={paint("ink")} strokeWidth="0.5" opacity="0.35" />
          <Label
            x={LEFT - 6}
            y={Math.min(Math.max((hour / 24) * TALL + 4, 10), TALL)}
            size={11}
            textAnchor="end"
            fill={paint("muted")}
          >
            {String(hour).padStart(2, "0")}
          </Label>
        </g>
      ))}
      {picture.months.map((month) => (
        <g key={month.day}>
          <path d={`M${x(month.day)} 0V${TALL + 4}`} stroke={paint("ink")} strokeWidth="0.5" opacity="0.45" />
          <Label x={x(month.day) + 2} y={TALL + 15} size={11} fill={paint("muted")}>
            {month.text.slice(0, 3)}
          </Label>
        </g>
      ))}
      <circle
        cx={x(picture.moment[0] + 0.5)}
        cy={picture.moment[1] * TALL}
        r="4.500"
        fill="none"
        stroke={paint("ink")}
        strokeWidth="2"
      />
    </svg>
  );
});
