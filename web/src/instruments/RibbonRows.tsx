import type { Ribbon } from "../api/types";
import { paint } from "../theme/system";
import { useHatches } from "./hatches";
import { Label } from "./Label";

/** Each row has a line of words and a bar below them, so that neither covers the other. */
const WORDS = 13;
const ROW = WORDS + 7;
const TIDE = WORDS + 26;
const WEATHER = WORDS + 10;
const SIZE = 11;

/** What the rows below the ribbon need. */
export function rowsTall(ribbon: Ribbon): number {
  return ribbon.rows.length * ROW + (ribbon.tide ? TIDE : 0) + (ribbon.forecast ? WEATHER : 0) + 2;
}

const BARS: Record<string, string> = { standpoint: "muted", subject: "moss", forecast: "panel", moon: "slate" };

/** Who has the sun and when, the moon, and tide and forecast where they are known. */
export function RibbonRows({ ribbon, wide }: { ribbon: Ribbon; wide: number }) {
  const { defs, url } = useHatches();
  const x = (s: number) => s * wide;
  const weatherAt = ribbon.rows.length * ROW;
  const tideAt = weatherAt + (ribbon.forecast ? WEATHER : 0);
  return (
    <g data-testid="ribbon-rows">
      {defs}
      {ribbon.rows.map((row, i) => {
        const words =
          row.kind === "moon"
            ? row.text
            : row.kind === "forecast"
              ? `${row.name}, with forecast${ribbon.forecast?.simulated ? " (simulated)" : ""}: ${row.text}`
              : `sun on the ${row.name}, clear sky: ${row.text}`;
        return (
          <g key={row.kind} transform={`translate(0 ${i * ROW})`} data-row={row.kind}>
            <path d={`M0 ${ROW - 1}H${wide}`} stroke={paint("line")} strokeWidth="0.6" />
            {row.spans.map(([a, b]) => (
              <g key={a}>
                <rect
                  x={x(a)}
                  y={WORDS}
                  width={Math.max(x(b - a), 1)}
                  height={ROW - WORDS - 2}
                  fill={paint(BARS[row.kind] ?? "muted")}
                  stroke={row.kind === "forecast" ? paint("moss") : "none"}
                  strokeDasharray="4 3"
                />
                {row.kind === "moon" ? (
                  <rect x={x(a)} y={WORDS} width={x(b - a)} height={ROW - WORDS - 2} fill={url("left")} />
                ) : null}
              </g>
            ))}
            <Label x="4" y={WORDS - 2} size={SIZE} fill={paint("ink")} words halo={paint("panel")}>
              {words}
            </Label>
          </g>
        );
      })}
      {ribbon.forecast ? (
        <g transform={`translate(0 ${weatherAt})`} data-row="weather">
          {ribbon.forecast.marks.map((mark, i, all) => {
            const to = all[i + 1]?.position ?? 1;
            return (
              <rect
                key={mark.position}
                x={x(mark.position)}
                y={WORDS + (1 - mark.cloud) * (WEATHER - WORDS - 2)}
                width={Math.max(x(to - mark.position) - 1, 1)}
                height={Math.max(mark.cloud * (WEATHER - WORDS - 2), 0.5)}
                fill={paint("tone1")}
              >
                <title>{mark.text}</title>
              </rect>
            );
          })}
          <Label x="4" y={WORDS - 2} size={SIZE} fill={paint("ink")} words halo={paint("panel")}>
            cloud{ribbon.forecast.simulated ? ", simulated" : `, ${ribbon.forecast.source}`}
          </Label>
        </g>
      ) : null}
      {ribbon.tide ? (
        <g transform={`translate(0 ${tideAt})`} data-row="tide">
          <path
            d={`M${ribbon.tide.points.map(([p, h]) => `${x(p).toFixed(1)} ${(TIDE - 3 - h * (TIDE - WORDS - 6)).toFixed(1)}`).join("L")}`}
            fill="none"
            stroke={paint("slate")}
            strokeWidth="1.8"
          />
          {ribbon.tide.turns.map((turn) => (
            <Label
              key={turn.position}
              x={Math.min(Math.max(x(turn.position), 62), wide - 62)}
              y={turn.high ? TIDE - 4 : WORDS + 9}
              size={SIZE}
              textAnchor="middle"
              fill={paint("slate")}
              halo={paint("panel")}
            >
              {turn.high ? "high" : "low"} {turn.text}
            </Label>
          ))}
          <Label x="4" y={WORDS - 2} size={SIZE} fill={paint("ink")} words halo={paint("panel")}>
            tide, {ribbon.tide.station}
          </Label>
        </g>
      ) : null}
    </g>
  );
}
