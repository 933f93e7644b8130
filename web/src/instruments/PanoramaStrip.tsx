import { memo } from "react";

import type { PanoramaReport } from "../api/types";
import { paint } from "../theme/system";
import { Label } from "./Label";

const WIDE = 900;
const LEAST_TALL = 90;
const MOST_TALL = 380;

/** The whole span as a strip, with the frame of each panel laid over it in shooting order. */
export const PanoramaStrip = memo(function PanoramaStrip({ panorama }: { panorama: PanoramaReport }) {
  const tall = Math.min(Math.max(WIDE / panorama.strip_aspect, LEAST_TALL), MOST_TALL);
  const path = (ring: readonly (readonly [number, number])[]) =>
    `M${ring.map(([x, y]) => `${(x * WIDE).toFixed(1)} ${(y * tall).toFixed(1)}`).join("L")}Z`;
  return (
    <svg
      viewBox={`0 0 ${WIDE} ${tall + 20}`}
      width="100%"
      role="img"
      aria-label={`Panorama of ${panorama.count.text} panels over ${panorama.span.text}`}
      data-testid="panorama-strip"
    >
      <svg width={WIDE} height={tall} viewBox={`0 0 ${WIDE} ${tall}`}>
        <rect width={WIDE} height={tall} fill={paint("sky")} />
        <rect y={panorama.strip_horizon * tall} width={WIDE} height={tall} fill={paint("tone0")} opacity="0.75" />
        {panorama.shapes.map((shape, i) => (
          <path
            key={`${shape.id}${i}`}
            d={path(shape.ring)}
            fill={
              shape.paint === "water"
                ? paint("lake")
                : shape.paint === "light"
                  ? paint("cloud")
                  : shape.paint === "opening"
                    ? paint("sky")
                    : paint(`tone${shape.tone}`)
            }
            stroke={paint("edge")}
            strokeOpacity="0.3"
          >
            <title>{shape.name}</title>
          </path>
        ))}
        {panorama.panels.map((panel) => (
          <path
            key={panel.number}
            d={path(panel.ring)}
            fill="none"
            stroke={panel.brightest ? paint("rust") : paint("ink")}
            strokeWidth={panel.brightest ? 3 : 1.4}
            strokeDasharray={panel.number % 2 ? undefined : "7 4"}
          />
        ))}
      </svg>
      {panorama.panels.map((panel) => {
        const xs = panel.ring.map(([x]) => x);
        const middle = xs.length > 0 ? (Math.min(...xs) + Math.max(...xs)) / 2 : 0;
        const low = panel.ring.length > 0 ? Math.max(...panel.ring.map(([, y]) => y)) : 0;
        const last = low > 0.97;
        return (
          <Label
            key={panel.number}
            x={middle * WIDE}
            y={last ? tall + 15 : low * tall - 6}
            size={13}
            bold={panel.brightest}
            textAnchor="middle"
            fill={panel.brightest ? paint("rust") : paint("ink")}
            halo={last ? paint("panel") : paint("sky")}
          >
            {panel.number}
            {panel.brightest ? " brightest" : panel.against ? ` ${panel.against}` : ""}
          </Label>
        );
      })}
    </svg>
  );
});
