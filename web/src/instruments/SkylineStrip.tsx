import { memo, useId } from "react";

import type { SkylineReport } from "../api/types";
import { paint } from "../theme/system";
import { Label } from "./Label";
import { useDrawnWidth } from "./useDrawnWidth";

const TALL = 190;
const FOOT = 20;

/** The skyline all round, the lens axis in the middle, with the day's paths of sun and moon. */
export const SkylineStrip = memo(function SkylineStrip({ strip }: { strip: SkylineReport }) {
  const [svg, wide] = useDrawnWidth();
  const clip = useId().replace(/[^a-zA-Z0-9]/g, "");
  const x = (bearing: number) => ((bearing + 180) / 360) * wide;
  const y = (altitude: number) => ((strip.top_deg - altitude) / (strip.top_deg - strip.bottom_deg)) * TALL;
  const line = (points: readonly (readonly [number, number])[]) =>
    points.map(([b, a]) => `${x(b).toFixed(1)} ${y(a).toFixed(1)}`).join("L");
  /** Which side of a mark its name stands on: away from the sun where that is close by. */
  const side = (mark: { at: readonly number[] }) => {
    const now = strip.sun.now;
    if (!now || Math.abs(x(now[0]) - x(mark.at[0] ?? 0)) > 50 || Math.abs(y(now[1]) - y(mark.at[1] ?? 0)) > 30) return "middle";
    return now[0] > (mark.at[0] ?? 0) ? "end" : "start";
  };
  const ground = `M0 ${TALL}L${line(strip.skyline as [number, number][])}L${wide} ${TALL}Z`;
  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${wide} ${TALL + FOOT}`}
      width="100%"
      role="img"
      aria-label="Skyline all round with the paths of sun and moon; the lens axis is in the middle"
      data-testid="skyline"
      style={{ display: "block" }}
    >
      <clipPath id={clip}>
        <rect width={wide} height={TALL} />
      </clipPath>
      <rect width={wide} height={TALL} fill={paint("sky")} />
      <g clipPath={`url(#${clip})`}>
        <rect
          x={x(strip.frame[0])}
          width={x(strip.frame[1]) - x(strip.frame[0])}
          height={TALL}
          fill={paint("cloud")}
          data-testid="skyline-frame"
        />
        {[10, 20, 30, 40, 50, 60, 70, 80]
          .filter((a) => a < strip.top_deg)
          .map((a) => (
            <g key={a}>
              <path d={`M0 ${y(a)}H${wide}`} stroke={paint("line")} strokeWidth="1" />
              <Label x="3" y={y(a) - 3} size={12} fill={paint("muted")}>
                {a}°
              </Label>
            </g>
          ))}
        {strip.moon.stretches.map((part, i) => (
          <path
            key={i}
            d={`M${line(part as [number, number][])}`}
            fill="none"
            stroke={paint("slate")}
            strokeWidth="2"
            strokeDasharray="2 5"
          />
        ))}
        {strip.sun.stretches.map((part, i) => (
          <path key={i} d={`M${line(part as [number, number][])}`} fill="none" stroke={paint("rust")} strokeWidth="2.4" />
        ))}
        <path d={ground} fill={paint("tone3")} stroke={paint("edge")} strokeWidth="1.2" />
        <path d={`M0 ${y(0)}H${wide}`} stroke={paint("ink")} strokeWidth="1" strokeDasharray="8 6" opacity="0.6" />
        {strip.marks.map((mark, i) => (
          <g key={mark.id} transform={`translate(${x(mark.at[0])} ${y(mark.at[1])})`}>
            <path d="M0 0V-7M-4 0H4" stroke={paint("ink")} strokeWidth="1.6" />
            <title>{mark.name}</title>
            {i % 2 === 0 &&
            Math.abs(mark.at[0]) < 150 &&
            !strip.marks
              .slice(0, i)
              .some(
                (other, k) =>
                  k % 2 === 0 && Math.abs(x(other.at[0]) - x(mark.at[0])) < 70 && Math.abs(y(other.at[1]) - y(mark.at[1])) < 13,
              ) ? (
              <Label y={-10} size={11} textAnchor={side(mark)} fill={paint("ink")} halo={paint("cloud")} words>
                {mark.name}
              </Label>
            ) : null}
          </g>
        ))}
        {strip.sun.hours.map((hour) => (
          <g key={`s${hour.text}`} transform={`translate(${x(hour.at[0])} ${y(hour.at[1])})`}>
            <circle r="3" fill={paint("rust")} />
            {strip.sun.now && Math.hypot(x(strip.sun.now[0]) - x(hour.at[0]), y(strip.sun.now[1]) - y(hour.at[1])) < 18 ? null : (
              <Label y={-7} size={12} textAnchor="middle" fill={paint("rust")} halo={paint("sky")}>
                {hour.text.slice(0, 2)}
              </Label>
            )}
          </g>
        ))}
        {strip.moon.hours.map((hour) => (
          <circle key={`m${hour.text}`} cx={x(hour.at[0])} cy={y(hour.at[1])} r="2.4" fill={paint("slate")} />
        ))}
        {strip.moon.now ? (
          <path
            d={`M${x(strip.moon.now[0]) - 2} ${y(strip.moon.now[1]) - 8}a8 8 0 1 0 6 12a7 7 0 0 1 -6 -12Z`}
            fill={paint("slate")}
            stroke={paint("cloud")}
          />
        ) : null}
        {strip.sun.now ? (
          <circle
            cx={x(strip.sun.now[0])}
            cy={y(strip.sun.now[1])}
            r="8"
            fill={paint("raised")}
            stroke={paint("rust")}
            strokeWidth="3"
          />
        ) : null}
      </g>
      {strip.north.map(([bearing, name]) => (
        <Label
          key={name}
          x={Math.min(Math.max(x(bearing), 8), wide - 10)}
          y={TALL + 15}
          size={12.5}
          bold={name.length === 1}
          textAnchor="middle"
          fill={paint("ink")}
        >
          {name}
        </Label>
      ))}
      <path d={`M${wide / 2} ${TALL}v5`} stroke={paint("rust")} strokeWidth="3" />
    </svg>
  );
});
