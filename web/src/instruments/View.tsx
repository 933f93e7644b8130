import { Box } from "@chakra-ui/react";
import { type KeyboardEvent as ReactKeyboardEvent, memo, useCallback, useEffect, useId, useRef, useState } from "react";

import type { DrawnElement, FramingReport } from "../api/types";
import { paint } from "../theme/system";
import { ARROWS } from "./arrows";
import { placeIn, useDrag } from "./dragging";
import { useHatches } from "./hatches";
import { Label } from "./Label";

const WIDTH = 1000;
// What exceeds the criterion is far too small to see in a small drawing; drawn this many times larger.
const BLUR_SHOWN = 5;

interface Placed {
  element: DrawnElement;
  x: number;
  y: number;
  end: boolean;
}

/** Put labels beside their anchors: on the side where they cover no other anchor, up or down where they would cover one another. */
function placeLabels(named: DrawnElement[], height: number, size: number, brief: boolean): Placed[] {
  const placed: (Placed & { left: number; right: number })[] = [];
  const tall = size * 2.1;
  for (const element of [...named].sort((a, b) => (b.anchor?.[1] ?? 0) - (a.anchor?.[1] ?? 0))) {
    const [ax, ay] = element.anchor ?? [0, 0];
    const wide =
      Math.max(
        element.name.length * 0.55,
        (element.distance.text.length + (brief ? 0 : element.blur.text.length) + (element.soft ? 8 : 3)) * 0.6,
      ) * size;
    let y = Math.min(Math.max(ay * height, size * 1.2), height - size);
    const beside = (end: boolean) => {
      const x = ax * WIDTH + (end ? -0.7 : 0.7) * size;
      return { end, x, left: end ? x - wide : x, right: end ? x : x + wide };
    };
    const free = ({ left, right }: { left: number; right: number }) =>
      left > 0 &&
      right < WIDTH &&
      !named.some(
        (other) =>
          other !== element &&
          other.anchor &&
          other.anchor[0] * WIDTH > left &&
          other.anchor[0] * WIDTH < right &&
          Math.abs(other.anchor[1] * height - y) < size * 1.2,
      );
    const usual = beside(ax > 0.68);
    const { end, x, left, right } = !free(usual) && free(beside(!usual.end)) ? beside(!usual.end) : usual;
    for (let tries = 0; tries < 12; tries += 1) {
      const hit = placed.find((one) => one.left < right && one.right > left && Math.abs(one.y - y) < tall);
      if (!hit) break;
      y = hit.y - tall > size ? hit.y - tall : hit.y + tall;
    }
    placed.push({ element, x, y, end, left, right });
  }
  return placed;
}

export type Handle = "foot" | "top" | "side";
const HANDLES: readonly (readonly [Handle, string])[] = [
  ["foot", "Foot"],
  ["top", "Top"],
  ["side", "Side"],
];
const KEY_STEP = 0.01;
const READABLE_PX = 11.5;
/** Drawn smaller than this, labels leave the blur out. */
const BRIEF_PX = 430;

/** What a hand does in the view: press where nothing is yet, or drag an element by its foot, top or side. */
export interface ViewHands {
  press: (x: number, y: number) => void;
  shape: (id: string, part: Handle, x: number, y: number) => void;
}

interface Props {
  framing: FramingReport;
  selected?: string | undefined;
  onSelect?: (id: string) => void;
  /** A small picture among others: no labels, nothing to press. */
  small?: boolean;
  hands?: ViewHands | undefined;
  /** Without a frame of its own, where it lies on a card. */
  bare?: boolean;
  label?: string;
}

const GLOW_REACH = 620;

function path(points: readonly (readonly number[])[], height: number) {
  return `M${points.map(([x = 0, y = 0]) => `${(x * WIDTH).toFixed(1)} ${(y * height).toFixed(1)}`).join("L")}Z`;
}

function told(element: DrawnElement) {
  const hidden = element.hidden && (element.hidden.value ?? 0) >= 1 ? `, ${element.hidden.text} hidden` : "";
  const mirrored = element.reflection ? `, ${element.reflection.text} of its reflection seen` : "";
  return `${element.name}, ${element.distance.text} away, blur ${element.blur.text}${element.soft ? ", soft" : ""}${hidden}${mirrored}`;
}

/** What still water shows of the things around it, broken by a few ripples. */
function Mirror({ element, height, url }: { element: DrawnElement; height: number; url: (name: string) => string }) {
  return (
    <>
      {element.mirrored.map((one) =>
        one.rings.map((ring, i) => (
          <g key={`${one.id}${i}`}>
            <path d={path(ring, height)} fill={paint(`tone${one.tone}`)} opacity="0.5" />
            <path d={path(ring, height)} fill={url("ripple")} opacity="0.35" />
          </g>
        )),
      )}
    </>
  );
}

function Silhouette({
  element,
  height,
  url,
  lit,
  onSelect,
  onHover,
}: {
  element: DrawnElement;
  height: number;
  url: (name: string) => string;
  lit: boolean;
  onSelect: (() => void) | undefined;
  onHover: ((on: boolean) => void) | undefined;
}) {
  const body = element.role === "sky" ? paint("cloud") : paint(`tone${element.tone}`);
  const blur = element.softness * WIDTH * BLUR_SHOWN;
  return (
    <g
      {...(onHover
        ? {
            tabIndex: 0,
            role: "button",
            "aria-label": told(element),
            onClick: onSelect,
            onKeyDown: (e: React.KeyboardEvent) => (e.key === "Enter" || e.key === " ") && onSelect?.(),
            onMouseEnter: () => onHover(true),
            onMouseLeave: () => onHover(false),
            onFocus: () => onHover(true),
            onBlur: () => onHover(false),
          }
        : {})}
      style={{
        outline: "none",
        cursor: onHover ? "pointer" : "default",
        filter: blur > 0.4 ? `blur(${blur.toFixed(2)}px)` : undefined,
      }}
    >
      {element.shadow.length > 0 ? <path d={path(element.shadow, height)} fill={url("cast")} /> : null}
      {element.outlines.map((outline, i) => {
        const d = path(outline.points, height);
        if (outline.paint === "water")
          return (
            <g key={i}>
              <path d={d} fill={paint("lake")} stroke={paint("edge")} strokeOpacity="0.25" />
              {element.motion === "still" ? null : <path d={d} fill={url("ripple")} />}
            </g>
          );
        if (outline.paint === "shade") return <path key={i} d={d} fill={url("shade")} />;
        const fill = outline.paint === "opening" ? paint("sky") : outline.paint === "light" ? paint("cloud") : body;
        return (
          <path
            key={i}
            d={d}
            fill={fill}
            stroke={lit ? paint("rust") : paint("edge")}
            strokeOpacity={lit ? 1 : 0.35}
            strokeWidth={lit ? 3 : 1}
            vectorEffect="non-scaling-stroke"
          />
        );
      })}
      <Mirror element={element} height={height} url={url} />
    </g>
  );
}

/** The picture through the frame, drawn from the geometry the server projected. */
export const View = memo(function View({
  framing,
  selected,
  onSelect,
  small = false,
  bare = false,
  hands,
  label = "The view through the frame",
}: Props) {
  const [hovered, setHovered] = useState<string>();
  const id = useId().replace(/[^a-zA-Z0-9]/g, "");
  const { defs, url } = useHatches();
  const height = WIDTH / framing.aspect;
  const [cx, cy, cw, ch] = framing.crop;
  const crop = { x: cx * WIDTH, y: cy * height, width: cw * WIDTH, height: ch * height };
  const mask = `M0 0H${WIDTH}V${height}H0ZM${crop.x} ${crop.y}v${crop.height}h${crop.width}v${-crop.height}Z`;
  const [left, right] = framing.horizon ?? [framing.elements.some((e) => e.role === "sky") ? 2 : 0, 0];
  // An upright frame is drawn smaller, so its labels are larger in its own units.
  const [drawn, setDrawn] = useState(600);
  const box = useRef<HTMLElement>(null);
  useEffect(() => {
    if (small || !box.current) return;
    const watch = new ResizeObserver(([entry]) => {
      if (!entry) return;
      const { width, height: tall } = entry.contentRect;
      setDrawn(Math.max(120, Math.min(width, tall * framing.aspect)));
    });
    watch.observe(box.current);
    return () => watch.disconnect();
  }, [small, framing.aspect]);
  // Labels keep a size that can be read, however small the picture is drawn.
  const size = Math.max(22 * Math.max(1, 1.5 / framing.aspect), (READABLE_PX / drawn) * WIDTH);
  const brief = drawn < BRIEF_PX;
  const named = small ? [] : framing.elements.filter((e) => e.anchor && (e.sharp_wanted || e.id === hovered || e.id === selected));
  const under = framing.underlay;
  const svg = useRef<SVGSVGElement>(null);
  const held = framing.elements.find((e) => e.id === selected);
  const grips = hands && held?.in_frame ? held.handles : [];
  const { grab, handlers } = useDrag<Handle, null>(
    svg,
    useCallback(
      (part, x, y) => {
        if (selected) hands?.shape(selected, part, x / WIDTH, y / height);
      },
      [hands, selected, height],
    ),
  );
  const nudge =
    (part: Handle, [x = 0, y = 0]: readonly number[]) =>
    (event: ReactKeyboardEvent) => {
      const by = ARROWS[event.key];
      if (!by || !selected || !hands) return;
      event.preventDefault();
      event.stopPropagation();
      const size = event.shiftKey ? KEY_STEP * 5 : KEY_STEP;
      hands.shape(selected, part, x + by[0] * size, y + by[1] * size);
    };
  return (
    <Box
      ref={box}
      as="figure"
      bg={bare ? "transparent" : "panel"}
      borderWidth={bare ? "0" : "1px"}
      borderColor="line"
      h="100%"
      display="flex"
      justifyContent="center"
      alignItems="center"
      overflow="hidden"
      aria-label={label}
    >
      <svg
        ref={svg}
        {...(hands ? handlers : {})}
        onDoubleClick={(event) => {
          const place = placeIn(svg.current, event);
          if (place) hands?.press(place[0] / WIDTH, place[1] / height);
        }}
        viewBox={`0 0 ${WIDTH} ${height}`}
        style={{
          touchAction: grips.length > 0 ? "none" : undefined,
          maxWidth: "100%",
          maxHeight: "100%",
          width: framing.aspect >= 1 ? "100%" : "auto",
          height: framing.aspect >= 1 ? "auto" : "100%",
        }}
        data-testid={small ? undefined : "view"}
        role={small ? "img" : undefined}
        aria-label={small ? label : undefined}
      >
        {defs}
        {framing.glow ? (
          <radialGradient
            id={`${id}-glow`}
            gradientUnits="userSpaceOnUse"
            cx={framing.glow[0] * WIDTH}
            cy={framing.glow[1] * height}
            r={GLOW_REACH}
          >
            <stop offset="0" stopColor={paint("cloud")} />
            <stop offset="1" stopColor={paint("cloud")} stopOpacity="0" />
          </radialGradient>
        ) : null}
        <clipPath id={`${id}-frame`}>
          <rect width={WIDTH} height={height} />
        </clipPath>
        <g clipPath={`url(#${id}-frame)`}>
          {under ? (
            <image
              href={`/api/photographs/${under.photograph_id}/shown`}
              x={(under.x - under.width / 2) * WIDTH}
              y={(under.y - under.height / 2) * height}
              width={under.width * WIDTH}
              height={under.height * height}
              preserveAspectRatio="none"
              transform={`rotate(${under.turned_deg} ${under.x * WIDTH} ${under.y * height})`}
            />
          ) : null}
          <g opacity={under ? 1 - under.opacity : undefined}>
            <rect width={WIDTH} height={height} fill={paint("sky")} />
            {framing.glow ? <rect width={WIDTH} height={height} fill={`url(#${id}-glow)`} /> : null}
            {framing.horizon === null && !framing.elements.some((e) => e.role === "sky") ? (
              <rect width={WIDTH} height={height} fill={paint("tone1")} opacity="0.5" />
            ) : null}
            {framing.horizon ? (
              <path d={`M0 ${left * height}L${WIDTH} ${right * height}V${height}H0Z`} fill={paint("tone0")} opacity="0.75" />
            ) : null}
            {framing.sun ? (
              <g>
                <circle
                  cx={framing.sun[0] * WIDTH}
                  cy={framing.sun[1] * height}
                  r="20"
                  fill={paint("cloud")}
                  stroke={paint("rust")}
                  strokeWidth="3"
                />
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
                onHover={small ? undefined : (on) => setHovered(on ? element.id : undefined)}
              />
            ))}
          </g>
          {under
            ? framing.elements.map((element) =>
                element.outlines
                  .slice(0, 1)
                  .map((outline, i) => (
                    <path
                      key={`${element.id}${i}`}
                      d={path(outline.points, height)}
                      fill="none"
                      stroke={paint("rust")}
                      strokeWidth="2"
                      strokeDasharray="9 5"
                      pointerEvents="none"
                    />
                  )),
              )
            : null}
          {framing.horizon ? (
            <path
              d={`M0 ${left * height}L${WIDTH} ${right * height}`}
              stroke={paint("ink")}
              strokeWidth="1"
              opacity="0.45"
              fill="none"
            />
          ) : null}
          <path d={mask} fillRule="evenodd" fill={paint("ground")} opacity="0.82" />
          <rect {...crop} fill="none" stroke={paint("ink")} strokeOpacity="0.5" strokeWidth="1.5" />
          {(small ? [] : framing.guides).map(([x0, y0, x1, y1]) => (
            <path
              key={`${x0} ${y0} ${x1}`}
              d={`M${x0 * WIDTH} ${y0 * height}L${x1 * WIDTH} ${y1 * height}`}
              stroke={paint("ink")}
              strokeOpacity="0.6"
              strokeWidth="1.6"
              strokeDasharray="3 7"
            />
          ))}
          {placeLabels(named, height, size, brief).map(({ element, x, y, end }) => {
            const [ax, ay] = element.anchor ?? [0, 0];
            return (
              <g key={element.id} pointerEvents="none" textAnchor={end ? "end" : "start"}>
                {Math.abs(y - ay * height) > size ? (
                  <path d={`M${ax * WIDTH} ${ay * height}L${x} ${y}`} stroke={paint("ink")} strokeWidth="1.500" />
                ) : null}
                <circle
                  cx={ax * WIDTH}
                  cy={ay * height}
                  r={size * 0.3}
                  fill={element.soft ? paint("rust") : paint("panel")}
                  stroke={paint("ink")}
                  strokeWidth={size * 0.13}
                />
                <Label x={x} y={y - size * 0.2} size={size} bold fill={paint("ink")} halo={paint("panel")} words>
                  {element.name}
                </Label>
                <Label
                  x={x}
                  y={y + size * 0.8}
                  size={size * 0.92}
                  fill={element.soft ? paint("rust") : paint("ink")}
                  bold={element.soft}
                  halo={paint("panel")}
                >
                  {element.distance.text}
                  {element.soft ? " · soft" : ""}
                  {brief ? "" : element.soft ? ` ${element.blur.text}` : ` · ${element.blur.text}`}
                </Label>
              </g>
            );
          })}
          {HANDLES.map(([part, words], i) => {
            const at = grips[i];
            if (!at || !held) return null;
            const lying = held.lying && part === "top";
            return (
              <g
                key={part}
                tabIndex={0}
                role="button"
                aria-label={`${lying ? "Far end" : words} of the ${held.name}; arrow keys move it`}
                transform={`translate(${at[0] * WIDTH} ${at[1] * height})`}
                style={{ cursor: part === "foot" ? "move" : part === "top" ? "ns-resize" : "ew-resize" }}
                onPointerDown={grab(part, null)}
                onKeyDown={nudge(part, at)}
              >
                <circle r={size * 1.1} fill="transparent" />
                <path
                  d={part === "foot" ? "M0 -9L9 0L0 9L-9 0Z" : part === "top" ? "M-8 6H8L0 -8Z" : "M-6 -8V8L8 0Z"}
                  fill={paint("panel")}
                  stroke={paint("rust")}
                  strokeWidth="2.5"
                />
              </g>
            );
          })}
        </g>
      </svg>
    </Box>
  );
});
