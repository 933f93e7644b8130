import { Box } from "@chakra-ui/react";
import { type KeyboardEvent, useRef, useState } from "react";

import type { DayShown, VisitShown } from "../api/types";
import { useDrag } from "../instruments/dragging";
import { useHatches } from "../instruments/hatches";
import { useDrawnWidth } from "../instruments/useDrawnWidth";
import { paint } from "../theme/system";

const HEAD = 34;
/** Beside a wide line names stand in a column of their own, on a narrow one above their row. */
const WIDE_FROM = 560;
const COLUMN = 172;
const LONGEST_NAME = 25;
const TICK_WIDE = 48;
const TIDE = 34;
const FOOT = 8;
const MOST_WIDE = 2000;
const STEP_MIN = 5;

type Part = readonly [number, number];
interface Row {
  id: string;
  /** Where the way there begins: on the line, and in which row (-1: the head). */
  from: { at: number; row: number } | null;
  name: string;
  light: readonly Part[];
  ground: readonly Part[] | null;
  visit: VisitShown | null;
}

function rowsOf(day: DayShown): Row[] {
  const made = day.visits.map((visit, k) => {
    const before = day.visits[k - 1];
    const from = before ? { at: before.leave_by.position, row: k - 1 } : day.leave ? { at: day.leave.position, row: -1 } : null;
    return { id: visit.visit_id, name: visit.name, light: visit.light, ground: visit.ground, visit, from };
  });
  const others = day.others.map((one) => ({
    id: one.visit_id,
    name: one.name,
    light: one.light,
    ground: one.ground,
    visit: null,
    from: null,
  }));
  return [...made, ...others];
}

/** A stepped notch: what a visit's block looks like, from arriving to leaving. */
function Block({ visit, x, y, held }: { visit: VisitShown; x: (at: number) => number; y: number; held: boolean }) {
  const [a, r, f, d, l] = [visit.arrive, visit.set_up_by, visit.first, visit.done, visit.leave_by].map((one) =>
    x(one.position),
  ) as [number, number, number, number, number];
  const stroke = held ? paint("rust") : paint("ink");
  return (
    <g>
      {/* Set-up climbs, waiting is a line, frames stand full, the margin falls away. */}
      <path d={`M${a} ${y + 30}L${r} ${y + 18}V${y + 30}Z`} fill={paint("tone1")} stroke={stroke} strokeWidth="1" />
      <path d={`M${r} ${y + 24}H${f}`} stroke={stroke} strokeWidth="1.4" strokeDasharray="2 3" />
      <rect x={f} y={y + 12} width={Math.max(d - f, 3)} height="18" fill={held ? paint("rust") : paint("moss")} />
      <path
        d={`M${Math.max(d, f + 3)} ${y + 14}L${Math.max(l, f + 4)} ${y + 30}H${Math.max(d, f + 3)}Z`}
        fill={paint("mossFaint")}
        stroke={stroke}
        strokeWidth="1"
      />
      {visit.nailed ? (
        <path d={`M${f} ${y + 8}V${y + 34}M${f - 4} ${y + 8}H${f + 4}`} stroke={paint("rust")} strokeWidth="2" />
      ) : null}
    </g>
  );
}

interface Hand {
  id: string;
  offset: number;
}

/**
 * A day as a line of time: night and twilight behind, a row for each picture with its light, ways slanting from row to row, the
 * tide at the foot. A row is taken hold of and put to another time; arrow keys do it in steps of five minutes.
 */
export function DayLine({
  day,
  chosen,
  onChoose,
  onNail,
  onNudge,
  onLetGo,
}: {
  day: DayShown;
  chosen: string | undefined;
  onChoose: (id: string) => void;
  onNail: (id: string, at: string) => void;
  /** So many minutes from where it is nailed, else from where it is planned. */
  onNudge: (id: string, minutes: number, from: string) => void;
  onLetGo: (id: string) => void;
}) {
  const [svg, wide] = useDrawnWidth(MOST_WIDE);
  const { defs, url } = useHatches();
  const rows = rowsOf(day);
  const beside = wide >= WIDE_FROM;
  const [LEFT, ROW, UP] = beside ? [COLUMN, 40, 0] : [0, 56, 16];
  const tideTop = HEAD + rows.length * ROW + 6;
  const high = tideTop + day.tides.length * TIDE + FOOT;
  const x = (at: number) => LEFT + at * (wide - LEFT);
  const gap = Math.abs(x(day.ticks[1]?.position ?? 1) - x(day.ticks[0]?.position ?? 0));
  const every = Math.max(1, Math.ceil(TICK_WIDE / Math.max(gap, 1)));
  const [drawn, setDrawn] = useState<{ id: string; at: number } | null>(null);
  const last = useRef<{ id: string; at: number } | null>(null);
  const instant = (at: number) => {
    const from = Date.parse(day.from_utc);
    const minute = Math.round((from + at * (Date.parse(day.to_utc) - from)) / 60_000);
    return new Date(minute * 60_000).toISOString();
  };
  const { held, grab, handlers } = useDrag<Hand, null>(svg, (what, px) => {
    const at = Math.min(Math.max((px - LEFT) / (wide - LEFT) - what.offset, 0), 1);
    last.current = { id: what.id, at };
    setDrawn(last.current);
  });
  const drop = () => {
    handlers.onPointerUp();
    if (last.current) onNail(last.current.id, instant(last.current.at));
    last.current = null;
    setDrawn(null);
  };
  const press = (row: Row) => (event: KeyboardEvent) => {
    const by = { ArrowRight: STEP_MIN, ArrowLeft: -STEP_MIN, PageUp: 30, PageDown: -30 }[event.key];
    if (by) {
      event.preventDefault();
      const from = row.visit ? row.visit.first.at_utc : instant(row.light[0]?.[0] ?? 0.5);
      onNudge(row.id, event.shiftKey ? by / 5 : by, from);
    } else if (event.key === "Delete" || event.key === "Backspace") {
      event.preventDefault();
      onLetGo(row.id);
    } else if (event.key === "Enter") onChoose(row.id);
  };
  const end = day.visits.at(-1);
  return (
    <Box position="relative">
      <svg
        ref={svg}
        viewBox={`0 0 ${wide} ${high}`}
        width="100%"
        height={high}
        role="group"
        aria-label={`${day.date_text}: ${day.heading}`}
        data-testid={`day-line-${day.index}`}
        style={{ display: "block", touchAction: "pan-y" }}
        {...handlers}
        onPointerUp={drop}
      >
        {defs}
        {day.bands.map((band) => (
          <rect
            key={`${band.kind}${band.part[0]}`}
            x={x(band.part[0])}
            y={18}
            width={x(band.part[1]) - x(band.part[0]) + 0.5}
            height={high - 18}
            fill={paint({ night: "nightfall", twilight: "twilight", day: "raised" }[band.kind])}
            opacity={band.kind === "day" ? 1 : 0.55}
          />
        ))}
        {day.ticks.map((tick, k) => (
          <g key={`${tick.position}`}>
            <path d={`M${x(tick.position)} 18V${high}`} stroke={paint("line")} strokeWidth="1" />
            {k % every === 0 && x(tick.position) < wide - 14 ? (
              <text
                x={Math.max(x(tick.position), 20)}
                y="12"
                fontSize="11.5"
                textAnchor="middle"
                fill={paint("ink")}
                className="lr-fig"
              >
                {tick.text}
              </text>
            ) : null}
          </g>
        ))}
        {day.sun.map((mark) => (
          <g key={mark.text}>
            <path d={`M${x(mark.position)} 18V${high}`} stroke={paint("rust")} strokeWidth="1.2" strokeDasharray="1 3" />
            <text
              x={x(mark.position) + (mark.position > 0.8 ? -4 : 4)}
              y="29"
              fontSize="11"
              textAnchor={mark.position > 0.8 ? "end" : "start"}
              fill={paint("ink")}
            >
              {mark.text}
            </text>
          </g>
        ))}
        {rows.map((row, k) => {
          const y = HEAD + k * ROW;
          const low = y + UP;
          const visit = row.visit;
          const moved = drawn?.id === row.id ? drawn.at : null;
          const way = visit && row.from ? { from: row.from, to: visit.arrive.position } : null;
          return (
            <g
              key={row.id}
              role="slider"
              tabIndex={0}
              aria-label={`${row.name}, first frame`}
              aria-valuetext={visit ? `${visit.first.text}${visit.nailed ? ", nailed" : ""}` : "left out"}
              aria-valuenow={Math.round((visit?.first.position ?? row.light[0]?.[0] ?? 0) * 1000)}
              aria-valuemin={0}
              aria-valuemax={1000}
              data-testid={`row-${row.name}`}
              onKeyDown={press(row)}
              onFocus={() => onChoose(row.id)}
              onPointerDown={(event) => {
                const box = svg.current?.getBoundingClientRect();
                if (!box) return;
                const at = (((event.clientX - box.left) / box.width) * wide - LEFT) / (wide - LEFT);
                grab({ id: row.id, offset: visit ? at - visit.first.position : 0 }, null)(event);
              }}
              style={{ cursor: "ew-resize", outlineOffset: "-2px" }}
            >
              <rect
                x="0"
                y={y}
                width={wide}
                height={ROW}
                fill={chosen === row.id ? paint("mossFaint") : "transparent"}
                opacity="0.7"
              />
              {row.ground
                ? row.ground.map(([a, b]) => (
                    <path key={a} d={`M${x(a)} ${low + 37}H${x(b)}`} stroke={paint("slate")} strokeWidth="3" />
                  ))
                : null}
              {row.light.map(([a, b]) => (
                <g key={a}>
                  <rect x={x(a)} y={low + 9} width={x(b) - x(a)} height="24" fill={paint("goldlight")} opacity="0.8" />
                  <rect
                    x={x(a)}
                    y={low + 9}
                    width={x(b) - x(a)}
                    height="24"
                    fill={url("gold")}
                    stroke={paint("rust")}
                    strokeWidth="0.8"
                  />
                </g>
              ))}
              {way ? (
                <path
                  d={`M${x(way.from.at)} ${way.from.row < 0 ? 20 : HEAD + way.from.row * ROW + UP + 30}L${x(way.to)} ${low + 30}`}
                  stroke={paint("ink")}
                  strokeWidth="1.6"
                  strokeDasharray={visit?.way_there.dark ? "1 4" : undefined}
                  strokeLinecap="round"
                />
              ) : null}
              {visit ? <Block visit={visit} x={x} y={low} held={held?.what.id === row.id} /> : null}
              {moved === null ? null : <path d={`M${x(moved)} ${low + 2}V${low + 38}`} stroke={paint("rust")} strokeWidth="3" />}
              <title>{row.name}</title>
              <text
                x="4"
                y={y + (beside ? 17 : 12)}
                fontSize="12.5"
                fontWeight="600"
                fill={paint(visit ? "ink" : "muted")}
                paintOrder="stroke"
                stroke={paint(beside ? "ground" : "raised")}
                strokeWidth="3"
              >
                {row.name.length > LONGEST_NAME && beside ? `${row.name.slice(0, LONGEST_NAME - 1)}…` : row.name}
                {beside ? null : ` ${visit ? visit.first.text : "left out"}`}
              </text>
              {beside ? (
                <text x="4" y={y + 32} fontSize="12" fill={paint(visit ? "ink" : "rust")} className={visit ? "lr-fig" : ""}>
                  {visit ? visit.first.text : "left out"}
                </text>
              ) : null}
            </g>
          );
        })}
        {end && day.back ? (
          <path
            d={`M${x(end.leave_by.position)} ${HEAD + (day.visits.length - 1) * ROW + UP + 30}L${x(day.back.position)} ${HEAD + day.visits.length * ROW}`}
            stroke={paint("ink")}
            strokeWidth="1.6"
            strokeDasharray={day.way_back?.dark ? "1 4" : undefined}
          />
        ) : null}
        {day.tides.map((tide, k) => {
          const top = tideTop + k * TIDE;
          const points = tide.points.map(([at, h]) => `${x(at).toFixed(1)} ${(top + 28 - h * 20).toFixed(1)}`).join("L");
          return (
            <g key={tide.station} role="img" aria-label={`Tide, ${tide.station}: ${tide.turns.map((one) => one.text).join(", ")}`}>
              <path
                d={`M${points}V${top + 30}H${LEFT}Z`}
                fill={paint("lake")}
                stroke={paint("slate")}
                strokeWidth="1.4"
                opacity="0.9"
              />
              {tide.turns.map((turn) => (
                <text
                  key={turn.text}
                  x={x(turn.position)}
                  y={top + 28}
                  fontSize="10.5"
                  textAnchor={turn.position < 0.12 ? "start" : turn.position > 0.88 ? "end" : "middle"}
                  fill={paint("ink")}
                >
                  {turn.text}
                </text>
              ))}
            </g>
          );
        })}
        {day.back_by.position < 1 ? (
          <path d={`M${x(day.back_by.position)} 18V${high}`} stroke={paint("ink")} strokeWidth="2" />
        ) : null}
        {day.now ? <path d={`M${x(day.now.position)} 14V${high}`} stroke={paint("rust")} strokeWidth="2.4" /> : null}
      </svg>
    </Box>
  );
}
