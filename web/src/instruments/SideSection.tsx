import { memo, useCallback, useRef } from "react";

import type { SectionReport } from "../api/types";
import { paint } from "../theme/system";
import { useDrag } from "./dragging";
import { Label } from "./Label";

const HEIGHT_STEP = 0.05;

interface Props {
  section: SectionReport;
  onHeight?: (metres: number) => void;
  large?: boolean;
}

/**
 * The side section along the lens axis: camera height to drag, the support's reach, the frame's edges,
 * and the line of sight over what stands in front.
 */
export const SideSection = memo(function SideSection({ section, onHeight, large = false }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const [WIDE, TALL, LEFT] = large ? [620, 420, 70] : [300, 138, 46];
  const GROUND = TALL - 16;
  const top = large ? 44 : 20;
  const onMove = useCallback(
    (_: "camera", __: number, y: number, frozen: SectionReport) =>
      onHeight?.(Math.max(0, Number((((GROUND - y) / (GROUND - top)) * frozen.height_m).toFixed(3)))),
    [onHeight, GROUND, top],
  );
  const { held, grab, handlers } = useDrag<"camera", SectionReport>(svg, onMove);
  const window = held?.frozen ?? section;
  const x = (m: number) => LEFT + (m / window.length_m) * (WIDE - LEFT);
  const y = (m: number) => GROUND - (m / window.height_m) * (GROUND - top);
  const point = ([along, up]: readonly [number, number]) => `${x(along)} ${y(up)}`;
  const head = y(section.camera_m);
  const type = large ? 12 : 11;
  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${WIDE} ${TALL}`}
      width="100%"
      height="100%"
      preserveAspectRatio="xMinYMid slice"
      role="group"
      aria-label={`Side section; the lens is ${section.camera.text} up, the support reaches ${section.reach_text}`}
      data-testid="section"
      {...handlers}
    >
      <rect width={WIDE} height={TALL} fill={paint("sky")} />
      <rect y={GROUND} width={WIDE} height={TALL - GROUND} fill={paint("tone1")} />
      <path
        d={`M${LEFT} ${head}L${point(section.upper_edge_end)}L${point(section.lower_edge_end)}Z`}
        fill={paint("panel")}
        opacity="0.6"
      />
      {section.boxes.map((box) => (
        <rect
          key={box.id}
          x={x(box.left)}
          y={y(box.high)}
          width={Math.max(x(box.right) - x(box.left), 2)}
          height={Math.max(y(box.low) - y(box.high), 3)}
          fill={paint(`tone${box.tone}`)}
        >
          <title>{box.name}</title>
        </rect>
      ))}
      <path d={`M${LEFT} ${head}L${point(section.axis_end)}`} stroke={paint("ink")} strokeWidth="1" strokeDasharray="1 4" />
      <path
        d={`M${point(section.upper_edge_end)}L${LEFT} ${head}L${point(section.lower_edge_end)}`}
        stroke={paint("ink")}
        strokeWidth="1.1"
        strokeDasharray="5 3"
        fill="none"
      />
      {section.sight ? (
        <path d={`M${point(section.sight[0])}L${point(section.sight[1])}`} stroke={paint("slate")} strokeWidth="1.6">
          <title>{section.sight_text}</title>
        </path>
      ) : null}
      <path
        d={`M${LEFT} ${head + 4}L${LEFT - 9} ${GROUND}M${LEFT} ${head + 4}V${GROUND}M${LEFT} ${head + 4}L${LEFT + 9} ${GROUND}`}
        stroke={paint("ink")}
        strokeWidth="2"
      />
      <rect
        x={LEFT - 8}
        y={head - 6}
        width="16"
        height="11"
        fill={paint("ink")}
        {...(onHeight
          ? {
              tabIndex: 0,
              role: "slider",
              "aria-label": "Camera height",
              "aria-valuenow": section.camera_m,
              "aria-valuetext": section.camera.text,
              "aria-orientation": "vertical" as const,
              style: { cursor: "ns-resize", touchAction: "none" },
              onPointerDown: grab("camera", section),
              onKeyDown: (event: React.KeyboardEvent) => {
                if (event.key !== "ArrowUp" && event.key !== "ArrowDown") return;
                event.preventDefault();
                event.stopPropagation();
                onHeight(Math.max(0, Number((section.camera_m + (event.key === "ArrowUp" ? 1 : -1) * HEIGHT_STEP).toFixed(3))));
              },
            }
          : {})}
      />
      <path
        d={`M18 ${y(section.reach_high_m)}h6m-3 0V${y(section.reach_low_m)}m-3 0h6`}
        stroke={paint("moss")}
        strokeWidth="1.4"
        fill="none"
      />
      {section.column_high_m > section.reach_high_m ? (
        <path
          d={`M21 ${y(section.reach_high_m)}V${y(section.column_high_m)}m-3 0h6`}
          stroke={paint("moss")}
          strokeWidth="1.4"
          strokeDasharray="3 2"
          fill="none"
        />
      ) : null}
      <g pointerEvents="none">
        <Label x="30" y={type + 2} size={type} fill={paint("ink")}>
          reach {section.reach_text}
        </Label>
        <Label x={LEFT + 12} y={head - 8} size={type} fill={paint("ink")} halo={paint("sky")}>
          {section.camera.text}
        </Label>
        {large && section.sight_text ? (
          <Label x="30" y={type * 2 + 8} size={type} fill={paint("slate")} words>
            {section.sight_text}
          </Label>
        ) : null}
      </g>
    </svg>
  );
});
