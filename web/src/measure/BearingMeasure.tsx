import { Box, Button, Flex } from "@chakra-ui/react";
import { useState } from "react";

import { ChoiceField, NumberField, Segments, TextField } from "../shell/fields";
import { More } from "../shell/More";
import type { Of } from "./MeasurePage";
import { recordMeasured } from "./record";
import { USUAL_ERROR_DEG } from "./senses";
import { Live, Sensing } from "./Sensing";
import { usePosition, useTurned } from "./useSenses";

type North = "magnetic" | "true";

/** A bearing by compass and tilt, or typed: of the camera's aim, or of something in sight. */
export function BearingMeasure({ of, what }: { of: Of; what: "aim" | "element" }) {
  const turned = useTurned();
  const position = usePosition();
  // What the picture is of comes first; at the sky nobody points.
  const names = of.elements
    .filter((one) => one.role !== "sky")
    .sort((a, b) => Number(b.role === "subject") - Number(a.role === "subject"))
    .map((one) => one.name);
  const [name, setName] = useState(what === "element" ? (names[0] ?? "") : "");
  const [typed, setTyped] = useState<{ azimuth: number | null; pitch: number | null; error: number | null; north: North }>({
    azimuth: null,
    pitch: null,
    error: USUAL_ERROR_DEG,
    north: "magnetic",
  });
  const here = position.sensed?.state === "there" ? position.sensed.value : undefined;
  const keep = (azimuth: number, pitch: number | null, error: number, north: North) =>
    void recordMeasured(of.id, what === "aim" ? `Aim of ${of.name}` : `Bearing to ${name}`, {
      kind: "bearing",
      what,
      name: what === "aim" ? "" : name,
      azimuth_deg: azimuth,
      north,
      error_deg: error,
      pitch_deg: pitch,
      stand: here
        ? {
            latitude_deg: here.latitude,
            longitude_deg: here.longitude,
            accuracy_m: here.accuracy,
            elevation_m: here.elevation,
          }
        : null,
    });
  const named = what === "aim" || name !== "";
  return (
    <>
      <Box mb="2">
        {what === "aim"
          ? "Hold the back of the phone along the lens, a hand away from it: iron and magnets turn a compass."
          : "Point the back of the phone at it. Point again from well to the side: where the two bearings cross is where it stands."}
      </Box>
      {what === "element" ? (
        <Flex direction="column" gap="2" mb="3">
          <ChoiceField
            label="what is it"
            value={names.includes(name) ? name : ""}
            options={[...names.map((one) => [one, one] as const), ["", "something else"]]}
            onCommit={setName}
          />
          {names.includes(name) ? null : <TextField label="its name" value={name} onCommit={setName} />}
          <Sensing sensed={position.sensed} ask={position.ask} what="From where I stand now">
            {(at) => (
              <Box fontSize="14px">
                From {at.latitude.toFixed(5)}, {at.longitude.toFixed(5)}, ± {Math.round(at.accuracy)} m
              </Box>
            )}
          </Sensing>
          {here ? null : (
            <Box fontSize="13px" color="muted">
              Without it, the planned standpoint counts.
            </Box>
          )}
        </Flex>
      ) : null}
      <Sensing sensed={turned.sensed} ask={turned.ask} what="Use compass and tilt">
        {({ azimuth, pitch, error }) => (
          <>
            <Live
              value={azimuth === null ? `${pitch.toFixed(0)}° up` : `${azimuth.toFixed(0)}°  ${pitch.toFixed(0)}° up`}
              note={
                azimuth === null
                  ? "this browser knows no north: type the bearing"
                  : `by the compass, ± ${error.toFixed(0)}° or worse near iron; the server puts the declination to it`
              }
            />
            <Button
              h="52px"
              w="100%"
              variant="solid"
              disabled={azimuth === null || !named}
              onClick={() => azimuth !== null && keep(azimuth, pitch, error, "magnetic")}
            >
              Keep this bearing
            </Button>
          </>
        )}
      </Sensing>
      <More title="Type it">
        <Flex direction="column" gap="2">
          <NumberField label="bearing, degrees" value={typed.azimuth} onCommit={(v) => setTyped({ ...typed, azimuth: v })} />
          <Segments
            tall
            label="North of the bearing"
            value={typed.north}
            options={[
              ["magnetic", "by compass"],
              ["true", "from true north"],
            ]}
            onCommit={(north) => setTyped({ ...typed, north })}
          />
          <NumberField label="up from level, degrees" value={typed.pitch} onCommit={(v) => setTyped({ ...typed, pitch: v })} />
          <NumberField label="right within, degrees" value={typed.error} onCommit={(v) => setTyped({ ...typed, error: v })} />
          <Button
            h="48px"
            disabled={typed.azimuth === null || !named}
            onClick={() => typed.azimuth !== null && keep(typed.azimuth, typed.pitch, typed.error ?? USUAL_ERROR_DEG, typed.north)}
          >
            Keep what is typed
          </Button>
        </Flex>
      </More>
    </>
  );
}
