import { type KeyboardEvent, memo, useCallback, useRef, useState } from "react";

import type { PlanReport } from "../api/types";
import { paint } from "../theme/system";
import { placeIn, useDrag, useWheel } from "./dragging";
import { useHatches } from "./hatches";
import { Label } from "./Label";

type Held =
  { kind: "stand" } | { kind: "aim" } | { kind: "element"; id: string } | { kind: "line"; index: number; end: "start" | "end" };
type Ways = Partial<Record<string, readonly [number, number]>>;

/** What a hand can do in the plan. Places are metres east and north of the place's origin. */
export interface PlanHands {
  stand: (east: number, north: number) => void;
  step: (right: number, ahead: number) => void;
  aimToward: (east: number, north: number) => void;
  turn: (right: number, up: number) => void;
  put: (id: string, east: number, north: number) => void;
  line: (index: number, end: "start" | "end", east: number, north: number) => void;
  add: (east: number, north: number) => void;
  zoom: (longer: boolean) => void;
  select: (id: string) => void;
}

const ARROWS: Ways = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };
const FINE = 0.1;
const COARSE = 1;

interface Props {
  plan: PlanReport;
  hands?: PlanHands;
  selected?: string | undefined;
  /** Drawn in the large place: finer type, more room. */
  large?: boolean;
}

/**
 * The plan from above, north up: field of view, sharp ground, feet and shadows of elements. Standpoint,
 * aim, elements and lines not to cross can be dragged, or moved with the arrow keys.
 */
export const PlanFromAbove = memo(function PlanFromAbove({ plan, hands, selected, large = false }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const [hovered, setHovered] = useState<string>();
  const [closer, setCloser] = useState(0);
  const shown = closer === 0 ? plan : { ...plan, half_m: plan.half_m / 2 ** closer };
  const { defs, url } = useHatches();
  const [WIDE, TALL] = large ? [620, 420] : [300, 138];
  const type = large ? 12 : 11;
  const place = useCallback(
    (window: PlanReport, x: number, y: number): [number, number] => {
      const scale = TALL / (2 * window.half_m);
      return [window.centre[0] + (x - WIDE / 2) / scale, window.centre[1] - (y - TALL / 2) / scale];
    },
    [WIDE, TALL],
  );
  const onMove = useCallback(
    (what: Held, x: number, y: number, frozen: PlanReport) => {
      const [east, north] = place(frozen, x, y);
      if (what.kind === "stand") hands?.stand(east, north);
      else if (what.kind === "aim") hands?.aimToward(east, north);
      else if (what.kind === "element") hands?.put(what.id, east, north);
      else hands?.line(what.index, what.end, east, north);
    },
    [hands, place],
  );
  const { held, grab, handlers } = useDrag<Held, PlanReport>(svg, onMove);
  useWheel(svg, hands?.zoom);
  // While a hand holds something the ground keeps still under it.
  const window = held?.frozen ?? shown;
  const scale = TALL / (2 * window.half_m);
  const xy = ([east = 0, north = 0]: readonly number[]): [number, number] => [
    WIDE / 2 + (east - window.centre[0]) * scale,
    TALL / 2 - (north - window.centre[1]) * scale,
  ];
  const at = (point: readonly number[]) =>
    xy(point)
      .map((v) => v.toFixed(1))
      .join(" ");
  const ring = (points: readonly (readonly number[])[]) => `M${points.map(at).join("L")}Z`;
  const line = (points: readonly (readonly number[])[]) => `M${points.map(at).join("L")}`;
  const [sx, sy] = xy(plan.standpoint);
  const [ax, ay] = xy(plan.aim);
  const keys = (act: (x: number, y: number) => void) => (event: KeyboardEvent) => {
    const way = ARROWS[event.key];
    if (!way) return;
    event.preventDefault();
    event.stopPropagation();
    const size = event.shiftKey ? COARSE : FINE;
    act(way[0] * size, way[1] * size);
  };
  const named = plan.elements.find((e) => e.id === hovered);
  const standing = plan.elements.filter((element) => !element.lying);
  const bar = plan.scale_bar_m * scale;
  const grip = { cursor: hands ? "grab" : undefined, touchAction: "none" } as const;
  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${WIDE} ${TALL}`}
      width="100%"
      height="100%"
      preserveAspectRatio="xMidYMid slice"
      role="group"
      aria-label="Plan from above, north up"
      data-testid="plan"
      {...handlers}
      onDoubleClick={(event) => {
        const found = placeIn(svg.current, event);
        if (found) hands?.add(...place(window, ...found));
      }}
    >
      {defs}
      <rect width={WIDE} height={TALL} fill={paint("tone0")} opacity="0.6" />
      {plan.rings.map((one) => (
        <g key={one.radius_m}>
          <circle cx={sx} cy={sy} r={one.radius_m * scale} fill="none" stroke={paint("ink")} strokeOpacity="0.16" />
        </g>
      ))}
      {plan.elements.map((element) =>
        element.lying ? (
          <path
            key={element.id}
            d={ring(element.foot)}
            fill={paint("cloud")}
            opacity="0.6"
            stroke={paint("muted")}
            strokeWidth="0.6"
          >
            <title>{`${element.name}, ${element.away}`}</title>
          </path>
        ) : null,
      )}
      {plan.sweep.length > 0 ? (
        <path
          d={ring(plan.sweep)}
          fill={paint("panel")}
          opacity="0.4"
          stroke={paint("ink")}
          strokeWidth="0.9"
          strokeDasharray="7 4"
        />
      ) : null}
      <path d={ring(plan.wedge)} fill={paint("panel")} opacity="0.55" stroke={paint("ink")} strokeWidth="0.9" />
      {plan.sharp.length > 0 ? (
        <path d={ring(plan.sharp)} fill={paint("mossFaint")} stroke={paint("moss")} strokeWidth="0.9" opacity="0.75">
          <title>sharp on the ground</title>
        </path>
      ) : null}
      {plan.focus.length > 0 ? (
        <path d={line(plan.focus)} stroke={paint("moss")} strokeWidth="1.8" strokeDasharray="6 2">
          <title>{`plane of focus, ${plan.focus_text}`}</title>
        </path>
      ) : null}
      {large
        ? plan.rings.map((one) => (
            <Label
              key={one.radius_m}
              x={sx + one.radius_m * scale * 0.72}
              y={sy + one.radius_m * scale * 0.72}
              size={11}
              fill={paint("muted")}
              halo={paint("panel")}
              pointerEvents="none"
            >
              {one.text}
            </Label>
          ))
        : null}
      {plan.elements.map((element) =>
        element.shadow.length > 0 ? <path key={element.id} d={ring(element.shadow)} fill={url("cast")} /> : null,
      )}
      {plan.lines.map((one, i) => (
        <g key={`${one.name}${i}`}>
          <path
            d={line([one.start, one.end])}
            stroke={paint("rust")}
            strokeWidth={one.crossed ? 3 : 2}
            strokeDasharray="10 3 2 3"
            fill="none"
          >
            <title>{`${one.name}: do not cross`}</title>
          </path>
          {hands
            ? (["start", "end"] as const).map((end) => (
                <rect
                  key={end}
                  x={xy(one[end])[0] - 5}
                  y={xy(one[end])[1] - 5}
                  width="10"
                  height="10"
                  fill={paint("panel")}
                  stroke={paint("rust")}
                  strokeWidth="1.6"
                  tabIndex={0}
                  role="button"
                  aria-label={`${end === "start" ? "First" : "Second"} point of the ${one.name}; arrow keys move it`}
                  style={grip}
                  onPointerDown={grab({ kind: "line", index: i, end }, shown)}
                  onKeyDown={keys((x, y) => hands.line(i, end, one[end][0] + x, one[end][1] + y))}
                />
              ))
            : null}
        </g>
      ))}
      {standing.map((element) => {
        const lit = element.id === selected || element.id === hovered;
        const shared = {
          stroke: lit ? paint("rust") : element.line ? paint(`tone${Math.max(element.tone, 2)}`) : paint("edge"),
          strokeWidth: lit ? 2 : element.line ? 3 : 0.6,
          fill: element.line ? "none" : paint(`tone${element.tone}`),
          opacity: element.in_frame ? 0.9 : 0.45,
          d: element.line ? line(element.foot) : ring(element.foot),
        };
        return <path key={element.id} {...shared} />;
      })}
      {hands
        ? plan.elements.map((element) => {
            const [x, y] = xy(element.at);
            return (
              <g
                key={element.id}
                tabIndex={0}
                role="button"
                aria-label={`${element.name}, ${element.away}; arrow keys move it`}
                style={{ ...grip, outline: "none" }}
                onPointerDown={(e) => {
                  hands.select(element.id);
                  grab({ kind: "element", id: element.id }, shown)(e);
                }}
                onKeyDown={keys((dx, dy) => hands.put(element.id, element.at[0] + dx, element.at[1] + dy))}
                onMouseEnter={() => setHovered(element.id)}
                onMouseLeave={() => setHovered(undefined)}
                onFocus={() => setHovered(element.id)}
                onBlur={() => setHovered(undefined)}
              >
                <circle cx={x} cy={y} r="11" fill="transparent" />
                <circle
                  cx={x}
                  cy={y}
                  r={element.id === selected || element.id === hovered ? 5 : 3}
                  fill={paint("panel")}
                  stroke={paint("ink")}
                  strokeWidth="1.3"
                />
              </g>
            );
          })
        : null}
      {large
        ? standing.map((element) => {
            const [x, y] = xy(element.at);
            return (
              <Label
                key={element.id}
                x={x + 8}
                y={y - 6}
                size={type}
                fill={paint("ink")}
                halo={paint("panel")}
                words
                pointerEvents="none"
              >
                {element.name}
              </Label>
            );
          })
        : null}
      {plan.sun ? (
        <g pointerEvents="none">
          <path
            d={`M${sx} ${sy}l${plan.sun[0] * 54} ${-plan.sun[1] * 54}`}
            stroke={paint("rust")}
            strokeWidth="1.2"
            strokeDasharray="4 3"
          />
          <circle
            cx={sx + plan.sun[0] * 62}
            cy={sy - plan.sun[1] * 62}
            r="6"
            fill={paint("cloud")}
            stroke={paint("rust")}
            strokeWidth="2"
          />
        </g>
      ) : null}
      <path d={`M${sx} ${sy}L${ax} ${ay}`} stroke={paint("ink")} strokeWidth="1" pointerEvents="none" />
      {hands ? (
        <>
          <path
            d="M0 -8L7 0L0 8L-7 0Z"
            transform={`translate(${ax} ${ay})`}
            fill={paint("panel")}
            stroke={paint("ink")}
            strokeWidth="1.6"
            tabIndex={0}
            role="button"
            aria-label="Aim; left and right turn it, up and down pitch it"
            style={grip}
            onPointerDown={grab({ kind: "aim" }, shown)}
            onKeyDown={keys((x, y) => hands.turn(x * 10, y * 10))}
          />
          <circle
            cx={sx}
            cy={sy}
            r="7"
            fill={paint("rust")}
            stroke={paint("panel")}
            strokeWidth="1.5"
            tabIndex={0}
            role="button"
            aria-label="Standpoint; arrow keys step to the sides, ahead and back"
            style={grip}
            onPointerDown={grab({ kind: "stand" }, shown)}
            onKeyDown={keys(hands.step)}
          />
        </>
      ) : (
        <circle cx={sx} cy={sy} r="5" fill={paint("rust")} stroke={paint("panel")} strokeWidth="1.5" />
      )}
      <g pointerEvents="none">
        <path d={`M14 ${TALL - 12}v-5v2.500h${bar}v-2.500v5`} stroke={paint("ink")} strokeWidth="1.2" fill="none" />
        <Label x="16" y={TALL - 22} size={type} fill={paint("ink")} halo={paint("panel")}>
          {plan.scale_bar_text}
        </Label>
        <Label x={WIDE - 16} y="18" size={type} fill={paint("ink")} textAnchor="middle">
          N
        </Label>
        <path d={`M${WIDE - 16} 38V23m-3 5l3-5l3 5`} stroke={paint("ink")} fill="none" />
      </g>
      {large ? (
        <g>
          {(
            [
              ["closer", 1, 26],
              ["wider", -1, 60],
            ] as const
          ).map(([name, by, y]) => (
            <g
              key={name}
              tabIndex={0}
              role="button"
              aria-label={`Draw the plan ${name}`}
              style={{ cursor: "pointer" }}
              onClick={() => setCloser(closer + by)}
              onKeyDown={(e) => (e.key === "Enter" || e.key === " ") && setCloser(closer + by)}
              onDoubleClick={(e) => e.stopPropagation()}
            >
              <rect x={WIDE - 66} y={y - 14} width="36" height="26" fill={paint("panel")} stroke={paint("line")} />
              <path
                d={by > 0 ? `M${WIDE - 54} ${y - 1}h12m-6 -6v12` : `M${WIDE - 54} ${y - 1}h12`}
                stroke={paint("ink")}
                strokeWidth="1.6"
              />
            </g>
          ))}
        </g>
      ) : null}
      <g pointerEvents="none">
        {named ? (
          <Label x="12" y={type + 6} size={type} bold fill={paint("ink")} halo={paint("panel")} words>
            {`${named.name}, ${named.away}`}
          </Label>
        ) : null}
      </g>
    </svg>
  );
});
