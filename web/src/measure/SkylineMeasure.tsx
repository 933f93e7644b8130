import { Box, Button } from "@chakra-ui/react";
import { useEffect, useRef, useState } from "react";

import { TextField } from "../shell/fields";
import { More } from "../shell/More";
import { paint } from "../theme/system";
import type { Of } from "./MeasurePage";
import { recordMeasured } from "./record";
import { type Turned, USUAL_ERROR_DEG } from "./senses";
import { Live, Sensing } from "./Sensing";
import { useTurned } from "./useSenses";

interface Point {
  azimuth_deg: number;
  altitude_deg: number;
}

const STEP_DEG = 1.5;
const LOWEST = -30;
const MOST = 720;
const W = 330;
const H = 90;

const apart = (a: number, b: number) => Math.abs(((a - b + 540) % 360) - 180);

/** The points of lines such as “120 8.5”, bearing and height. */
export function readPoints(text: string): Point[] {
  return text
    .split(/\n|;/)
    .map((line) =>
      line
        .trim()
        .split(/[\s,]+/)
        .map(Number),
    )
    .flatMap(([azimuth, altitude]) =>
      azimuth !== undefined && altitude !== undefined && Number.isFinite(azimuth) && Number.isFinite(altitude)
        ? [{ azimuth_deg: azimuth, altitude_deg: altitude }]
        : [],
    );
}

function Profile({ points }: { points: Point[] }) {
  const top = Math.max(10, ...points.map((one) => one.altitude_deg)) * 1.2;
  const x = (one: Point) => (one.azimuth_deg / 360) * W;
  const y = (one: Point) => H - 4 - (Math.max(one.altitude_deg, 0) / top) * (H - 12);
  return (
    <svg viewBox={`0 0 ${W} ${H}`} width="100%" role="img" aria-label={`The skyline so far: ${points.length} points`}>
      <path d={`M0 ${H - 4}H${W}`} stroke={paint("line")} />
      {["N", "E", "S", "W"].map((name, k) => (
        <text key={name} x={(k / 4) * W + 3} y={H - 7} fontSize="10" fill={paint("muted")}>
          {name}
        </text>
      ))}
      {points.map((one, k) => (
        <path key={k} d={`M${x(one).toFixed(1)} ${H - 4}V${y(one).toFixed(1)}`} stroke={paint("ink")} strokeWidth="2" />
      ))}
    </svg>
  );
}

/** Takes a point every so many degrees while the button is held. */
function Sweep({ turned, onPoints }: { turned: Turned; onPoints: (points: Point[]) => void }) {
  const [held, setHeld] = useState(false);
  const taken = useRef<Point[]>([]);
  const { azimuth, pitch } = turned;
  useEffect(() => {
    if (!held || azimuth === null || pitch < LOWEST) return;
    const last = taken.current.at(-1);
    if (last && apart(last.azimuth_deg, azimuth) < STEP_DEG) return;
    // What is swept twice counts as it was the second time.
    const others = taken.current.filter((one) => apart(one.azimuth_deg, azimuth) >= STEP_DEG / 2);
    taken.current = [...others, { azimuth_deg: azimuth, altitude_deg: Math.min(pitch, 89) }].slice(-MOST);
    onPoints(taken.current);
  }, [held, azimuth, pitch, onPoints]);
  return (
    <Button
      h="64px"
      w="100%"
      variant={held ? "solid" : "outline"}
      aria-pressed={held}
      onClick={() => setHeld(!held)}
      disabled={azimuth === null}
    >
      {held ? "Sweeping: press to stop" : "Start to sweep"}
    </Button>
  );
}

/** The skyline: by sweeping along it with the back of the phone, or as points. */
export function SkylineMeasure({ of }: { of: Of }) {
  const turned = useTurned();
  const [points, setPoints] = useState<Point[]>([]);
  const [text, setText] = useState("");
  const typed = readPoints(text);
  const keep = (found: Point[], north: "magnetic" | "true") => {
    const error = turned.sensed?.state === "there" && north === "magnetic" ? turned.sensed.value.error : 2;
    void recordMeasured(of.id, `Skyline at ${of.name}`, { kind: "skyline", north, error_deg: error, points: found });
  };
  return (
    <>
      <Box mb="2">Sight along the top edge of the phone’s back camera, and follow the edge between land and sky slowly.</Box>
      <Sensing sensed={turned.sensed} ask={turned.ask} what="Use compass and tilt">
        {(value) => (
          <>
            <Live
              value={value.azimuth === null ? "no north" : `${value.azimuth.toFixed(0)}°  ${value.pitch.toFixed(1)}° up`}
              note={`by the compass, ± ${(value.azimuth === null ? USUAL_ERROR_DEG : value.error).toFixed(0)}°; tilt ± 1°`}
            />
            <Sweep turned={value} onPoints={setPoints} />
          </>
        )}
      </Sensing>
      {points.length > 0 ? (
        <Box my="2">
          <Profile points={points} />
          <Button h="52px" w="100%" variant="solid" disabled={points.length < 2} onClick={() => keep(points, "magnetic")}>
            Keep {points.length} points
          </Button>
        </Box>
      ) : null}
      <More title="Type it">
        <TextField
          long
          label="bearing from true north and height, one pair a line"
          value={text}
          onCommit={setText}
          placeholder={"90 4.5\n100 8\n120 11.5"}
        />
        <Button h="48px" mt="2" disabled={typed.length < 2} onClick={() => keep(typed, "true")}>
          Keep {typed.length} points
        </Button>
      </More>
    </>
  );
}
