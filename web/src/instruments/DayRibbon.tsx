import { Box, chakra } from "@chakra-ui/react";
import { memo, useCallback, useEffect, useRef, useState } from "react";

import type { Ribbon } from "../api/types";
import { paint } from "../theme/system";
import { useHatches } from "./hatches";
import { Label } from "./Label";
import { RibbonRows, rowsTall } from "./RibbonRows";

const HILL_TOP = 20;
const HILL = 44;
const BAND = HILL_TOP + HILL + 2;
const BAND_TALL = 18;
const ROWS = BAND + BAND_TALL + 2;
const HOURS_TALL = 19;
/** Wide enough for what the post says. */
const FLAG = 236;
/** The button that shows the rows, and a letter of the line of words. */
const OPENER = 84;
const LETTER = 6.7;
const NAMED_EVENTS = new Set(["sunrise", "sunset", "golden_morning", "golden_evening_end", "noon"]);

const FILLS: Record<string, string> = { back_left: "upright", back_right: "upright", side_left: "left", side_right: "right" };
/** The ground behind the hill: night, the twilights, and day. */
const PHASES: Record<string, string> = {
  night: "nightfall",
  twilight: "twilight",
  blue: "bluehour",
  golden: "panel",
  day: "panel",
};

/** The instant at a share of the day; the day's bounds come from the server. */
function instantAt(ribbon: Ribbon, share: number): string {
  const start = Date.parse(ribbon.start_utc);
  const end = Date.parse(ribbon.end_utc);
  const minute = 60_000;
  const at = Math.round((start + share * (end - start)) / minute) * minute;
  return new Date(Math.min(Math.max(at, start), end - minute)).toISOString();
}

interface Props {
  ribbon: Ribbon;
  onMoment: (utc: string) => void;
  onStep: (minutes: number) => void;
  onEvent: (direction: 1 | -1) => void;
  /** Whether the rows of who has the sun and when are shown. */
  open?: boolean;
  onOpen?: (open: boolean) => void;
}

/** The day relative to the view: the hill of light, its direction, who has the sun, and the moment as a post to drag. */
export const DayRibbon = memo(function DayRibbon({ ribbon, onMoment, onStep, onEvent, open = true, onOpen }: Props) {
  const ref = useRef<HTMLDivElement>(null);
  const [wide, setWide] = useState(1248);
  const [dragged, setDragged] = useState<number>();
  const { defs, url } = useHatches();
  useEffect(() => {
    if (!ref.current) return;
    const watch = new ResizeObserver(([entry]) => entry && setWide(Math.max(320, entry.contentRect.width)));
    watch.observe(ref.current);
    return () => watch.disconnect();
  }, []);
  const share = useCallback((clientX: number) => {
    const box = ref.current?.getBoundingClientRect();
    return box ? Math.min(Math.max((clientX - box.left) / box.width, 0), 1) : 0;
  }, []);
  const moment = dragged ?? ribbon.moment;
  const x = (s: number) => s * wide;
  const flag = Math.min(Math.max(x(moment), 0), wide - FLAG);
  const narrow = wide < 760;
  const sides = { left: flag - 8, right: wide - flag - FLAG - 12 - (onOpen ? OPENER : 0) };
  const toldRight = sides.right > sides.left;
  const told = [
    `stops below the day's brightest · ${ribbon.date_text} · ${ribbon.moon_text}${ribbon.sun_text ? ` · ${ribbon.sun_text}` : ""}`,
    `${ribbon.date_text} · ${ribbon.moon_text}`,
    ribbon.date_text,
  ].find((text) => text.length * LETTER < Math.max(sides.left, sides.right));
  const rises = ribbon.events.filter((event) => event.name === "sunrise" || event.name === "sunset");
  const crowded = rises.length > 1 && x(Math.abs((rises[1]?.position ?? 1) - (rises[0]?.position ?? 0))) < 60;
  const hours = ROWS + (open ? rowsTall(ribbon) : 0);
  const tall = hours + HOURS_TALL;
  const hill = ribbon.hill.map(([p, h]) => `${x(p).toFixed(1)} ${(HILL_TOP + (1 - h) * HILL).toFixed(1)}`).join("L");
  return (
    <Box position="relative">
      <Box
        ref={ref}
        h={`${tall}px`}
        role="slider"
        tabIndex={0}
        aria-label="Moment of the day"
        aria-valuemin={0}
        aria-valuemax={1440}
        aria-valuenow={Math.round(ribbon.moment * 1440)}
        aria-valuetext={`${ribbon.moment_text}, ${ribbon.date_text}`}
        data-testid="day-ribbon"
        cursor="ew-resize"
        css={{ touchAction: "none", userSelect: "none" }}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          const s = share(e.clientX);
          setDragged(s);
          onMoment(instantAt(ribbon, s));
        }}
        onPointerMove={(e) => {
          if (dragged === undefined) return;
          const s = share(e.clientX);
          setDragged(s);
          onMoment(instantAt(ribbon, s));
        }}
        onPointerUp={() => setDragged(undefined)}
        onPointerCancel={() => setDragged(undefined)}
        onKeyDown={(e) => {
          if (e.key === "ArrowLeft" || e.key === "ArrowRight") {
            e.preventDefault();
            onStep((e.key === "ArrowRight" ? 1 : -1) * (e.shiftKey ? 30 : 1));
          }
          if (e.key === "PageUp" || e.key === "PageDown") {
            e.preventDefault();
            onEvent(e.key === "PageDown" ? 1 : -1);
          }
        }}
      >
        <svg width={wide} height={tall} viewBox={`0 0 ${wide} ${tall}`} style={{ display: "block" }}>
          {defs}
          {ribbon.phases.map((one) => (
            <g key={one.start}>
              <rect
                x={x(one.start)}
                y={HILL_TOP}
                width={x(one.end - one.start)}
                height={HILL}
                fill={paint(PHASES[one.phase] ?? "panel")}
              />
              {one.phase === "golden" ? (
                <rect x={x(one.start)} y={HILL_TOP} width={x(one.end - one.start)} height={HILL} fill={url("gold")} />
              ) : null}
            </g>
          ))}
          <path d={`M0 ${HILL_TOP + HILL}L${hill}L${wide} ${HILL_TOP + HILL}Z`} fill={paint("lake")} />
          <path d={`M${hill}`} fill="none" stroke={paint("ink")} strokeWidth="1.5" />
          <Label
            x={toldRight ? wide - (onOpen ? OPENER : 4) : 4}
            y="13"
            size={11}
            fill={paint("muted")}
            textAnchor={toldRight ? "end" : "start"}
          >
            {told}
          </Label>
          {ribbon.stop_marks
            .filter((mark, i, all) => !all.slice(0, i).some((other) => Math.abs(x(other.position) - x(mark.position)) < 16))
            .map((mark) => (
              <g key={`${mark.text}${mark.position}`} transform={`translate(${x(mark.position)} ${HILL_TOP + HILL})`}>
                <path d="M0 0V-9" stroke={paint("rust")} strokeWidth="1.2" />
                <Label x="2" y="-3" size={10} fill={paint("rust")} halo={paint("lake")}>
                  {mark.text}
                </Label>
              </g>
            ))}
          {ribbon.segments.map((segment) => {
            const left = x(segment.start);
            const width = x(segment.end) - left;
            const hatch = FILLS[segment.side];
            return (
              <g key={`${segment.start}`}>
                <rect
                  x={left}
                  y={BAND}
                  width={width}
                  height={BAND_TALL}
                  fill={segment.side === "front" ? paint("cloud") : paint("panel")}
                  stroke={paint("line")}
                />
                {hatch ? <rect x={left} y={BAND} width={width} height={BAND_TALL} fill={url(hatch)} /> : null}
                {width > 70 ? (
                  <g>
                    <rect
                      x={left + 4}
                      y={BAND + 2}
                      width={segment.text.length * 7 + 8}
                      height={BAND_TALL - 4}
                      fill={paint("panel")}
                    />
                    <Label x={left + 8} y={BAND + 13} size={11.5} bold fill={paint("ink")} words>
                      {segment.text}
                    </Label>
                  </g>
                ) : null}
              </g>
            );
          })}
          {ribbon.events
            .filter((event) => NAMED_EVENTS.has(event.name))
            .map((event) => (
              <g key={`${event.name}${event.position}`} transform={`translate(${x(event.position)} ${HILL_TOP + HILL})`}>
                <path d="M0 -1l4.500 -7h-9Z" fill={paint("ink")} />
                <title>{`${event.text} ${event.time_text}`}</title>
              </g>
            ))}
          {(crowded || narrow ? [] : rises).map((event) => (
            <Label
              key={event.name}
              x={x(event.position) + (event.name === "sunrise" ? -8 : 8)}
              y={HILL_TOP + HILL - 22}
              size={11}
              fill={paint("ink")}
              textAnchor={event.name === "sunrise" ? "end" : "start"}
              halo={paint("panel")}
            >
              {event.text} {event.time_text}
            </Label>
          ))}
          {open ? (
            <g transform={`translate(0 ${ROWS})`}>
              <RibbonRows ribbon={ribbon} wide={wide} />
            </g>
          ) : null}
          {ribbon.ticks
            .filter((_, i) => !narrow || i % 2 === 0)
            .map((tick) => (
              <g key={tick.position} transform={`translate(${x(tick.position)} ${hours})`}>
                <path d="M0.500 0v5" stroke={paint("muted")} />
                <Label
                  x={tick.position > 0.97 ? -2 : 3}
                  y="15"
                  size={11}
                  fill={paint("muted")}
                  textAnchor={tick.position > 0.97 ? "end" : "start"}
                >
                  {tick.text}
                </Label>
              </g>
            ))}
          <path d={`M${x(moment)} 0V${hours + 4}`} stroke={paint("rust")} strokeWidth="2" />
          <rect x={flag} y="0" width={FLAG} height="18" fill={paint("rust")} />
          <Label x={flag + 8} y="13" size={12} bold fill={paint("onRust")} data-testid="moment">
            {ribbon.moment_text}
          </Label>
        </svg>
      </Box>
      {onOpen ? (
        <chakra.button
          type="button"
          aria-expanded={open}
          position="absolute"
          right="0"
          top={flag > wide - FLAG - OPENER ? `${HILL_TOP}px` : "-3px"}
          h="24px"
          px="2"
          fontSize="12px"
          fontWeight="600"
          bg="panel"
          cursor="pointer"
          textDecoration="underline"
          onClick={() => onOpen(!open)}
        >
          {open ? "fewer rows" : "more rows"}
        </chakra.button>
      ) : null}
    </Box>
  );
});
