import { Box } from "@chakra-ui/react";
import { memo, useState } from "react";

import type { DrawnElement, FramingReport } from "../api/types";
import { paint } from "../theme/system";
import { useHatches } from "./hatches";

const WIDTH = 1000;
// Real blur is far too small to see in a small drawing; drawn this many times larger.
const BLUR_SHOWN = 3.2;

interface Props {
  framing: FramingReport;
  selected?: string | undefined;
  onSelect?: (id: string) => void;
}

function path(points: readonly (readonly number[])[], height: number) {
  return `M${points.map(([x = 0, y = 0]) => `${(x * WIDTH).toFixed(1)} ${(y * height).toFixed(1)}`).join("L")}Z`;
}

function Silhouette({ element, height, url, lit, onSelect, onHover }: { element: DrawnElement; height: number; url: (name: string) => string; lit: boolean; onSelect: (() => void) | undefined; onHover: (on: boolean) => void }) {
  const body = element.role === "sky" ? paint("cloud") : paint(`tone${element.tone}`);
  const blur = element.softness * WIDTH * BLUR_SHOWN;
  return (
    <g
      tabIndex={0}
      role="button"
      aria-label={`${element.name}, ${element.distance.text} away, blur ${element.blur.text}${element.soft ? ", soft" : ""}`}
      onClick={onSelect}
      onKeyDown={(e) => (e.key === "Enter" || e.key === " ") && onSelect?.()}
      onMouseEnter={() => onHover(true)}
      onMouseLeave={() => onHover(false)}
      onFocus={() => onHover(true)}
      onBlur={() => onHover(false)}
      style={{ outline: "none", cursor: "pointer", filter: blur > 1.1 ? `blur(${blur.toFixed(2)}px)` : undefined }}
    >
      {element.outlines.map((outline, i) => {
        const d = path(outline.points, height);
        if (outline.paint === "water")
          return (
            <g key={i}>
              <path d={d} fill={paint("lake")} stroke={paint("edge")} strokeOpacity="0.25" />
              <path d={d} fill={url("ripple")} />
            </g>
          );
        if (outline.paint === "shade") return <path key={i} d={d} fill={url("shade")} />;
        const fill = outline.paint === "opening" ? paint("sky") : outline.paint === "light" ? paint("cloud") : body;
        return <path key={i} d={d} fill={fill} stroke={lit ? paint("rust") : paint("edge")} strokeOpacity={lit ? 1 : 0.35} strokeWidth={lit ? 3 : 1} vectorEffect="non-scaling-stroke" />;
      })}
    </g>
  );
}

/** The picture through the frame, drawn from the geometry the server projected. */
export const View = memo(function View({ framing, selected, onSelect }: Props) {
  const [hovered, setHovered] = useState<string>();
  const { defs, url } = useHatches();
  const height = WIDTH / framing.aspect;
  const [cx, cy, cw, ch] = framing.crop;
  const crop = { x: cx * WIDTH, y: cy * height, width: cw * WIDTH, height: ch * height };
  const mask = `M0 0H${WIDTH}V${height}H0ZM${crop.x} ${crop.y}v${crop.height}h${crop.width}v${-crop.height}Z`;
  const [left, right] = framing.horizon ?? [framing.elements.some((e) => e.role === "sky") ? 2 : 0, 0];
  const named = framing.elements.filter((e) => e.anchor && (e.sharp_wanted || e.id === hovered || e.id === selected));
  return (
    <Box as="figure" bg="panel" borderWidth="1px" borderColor="line" h="100%" display="flex" justifyContent="center" alignItems="center" overflow="hidden" aria-label="The view through the frame">
      <svg viewBox={`0 0 ${WIDTH} ${height}`} style={{ maxWidth: "100%", maxHeight: "100%", width: framing.aspect >= 1 ? "100%" : "auto", height: framing.aspect >= 1 ? "auto" : "100%" }} data-testid="view">
        {defs}
        <clipPath id="lr-frame">
          <rect width={WIDTH} height={height} />
        </clipPath>
        <g clipPath="url(#lr-frame)">
          <rect width={WIDTH} height={height} fill={paint("sky")} />
          {framing.horizon === null && !framing.elements.some((e) => e.role === "sky") ? <rect width={WIDTH} height={height} fill={paint("tone1")} opacity="0.5" /> : null}
          {framing.horizon ? <path d={`M0 ${left * height}L${WIDTH} ${right * height}V${height}H0Z`} fill={paint("tone0")} opacity="0.75" /> : null}
          {framing.sun ? (
            <g>
              <circle cx={framing.sun[0] * WIDTH} cy={framing.sun[1] * height} r="20" fill={paint("cloud")} stroke={paint("rust")} strokeWidth="3" />
            </g>
          ) : null}
          {framing.elements.map((element) => (
            <Silhouette
              key={element.id}
              element={element}
              height={height}
              url={url}
              lit={element.id === selected || element.id === hovered}
              onSelect={onSelect ? () => onSelect(element.id) : undefined}
              onHover={(on) => setHovered(on ? element.id : undefined)}
            />
          ))}
          {framing.horizon ? <path d={`M0 ${left * height}L${WIDTH} ${right * height}`} stroke={paint("ink")} strokeWidth="1" opacity="0.45" fill="none" /> : null}
          <path d={mask} fillRule="evenodd" fill={paint("ground")} opacity="0.82" />
          <rect {...crop} fill="none" stroke={paint("ink")} strokeOpacity="0.5" strokeWidth="1.5" />
          {[1 / 3, 2 / 3].map((t) => (
            <g key={t} stroke={paint("ink")} strokeOpacity="0.4" strokeWidth="1.4" strokeDasharray="2 7">
              <path d={`M${crop.x + crop.width * t} ${crop.y}v${crop.height}`} />
              <path d={`M${crop.x} ${crop.y + crop.height * t}h${crop.width}`} />
            </g>
          ))}
          {named.map((element) => {
            const [ax, ay] = element.anchor ?? [0, 0];
            const near = ax > 0.72;
            const x = ax * WIDTH + (near ? -14 : 14);
            const y = ay * height;
            return (
              <g key={element.id} pointerEvents="none" textAnchor={near ? "end" : "start"} style={{ paintOrder: "stroke" }}>
                <circle cx={ax * WIDTH} cy={y} r="7" fill={element.soft ? paint("rust") : paint("panel")} stroke={paint("ink")} strokeWidth="3" />
                <text x={x} y={y - 4} fontSize="20" fontWeight="700" fill={paint("ink")} stroke={paint("panel")} strokeWidth="5" style={{ paintOrder: "stroke", fontFamily: "var(--lr-fonts-body)" }}>
                  {element.name}
                </text>
                <text x={x} y={y + 18} fontSize="19" fill={element.soft ? paint("rust") : paint("ink")} fontWeight={element.soft ? 700 : 400} stroke={paint("panel")} strokeWidth="5" style={{ paintOrder: "stroke" }}>
                  {element.distance.text} · {element.soft ? "soft " : ""}
                  {element.blur.text}
                </text>
              </g>
            );
          })}
        </g>
      </svg>
    </Box>
  );
});
