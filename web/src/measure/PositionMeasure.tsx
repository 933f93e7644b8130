import { Box, Button, Flex } from "@chakra-ui/react";
import { useState } from "react";

import { NumberField } from "../shell/fields";
import { More } from "../shell/More";
import type { Of } from "./MeasurePage";
import { recordMeasured } from "./record";
import { Live, Sensing } from "./Sensing";
import { usePosition } from "./useSenses";

const USUAL_TYPED_M = 5;

/** Where the tripod stands: by the device, or typed off a map. */
export function PositionMeasure({ of }: { of: Of }) {
  const { sensed, ask } = usePosition();
  const [typed, setTyped] = useState<{ latitude: number | null; longitude: number | null; accuracy: number | null }>({
    latitude: null,
    longitude: null,
    accuracy: USUAL_TYPED_M,
  });
  const keep = (latitude: number, longitude: number, accuracy: number, elevation: number | null) =>
    void recordMeasured(of.id, `Standpoint of ${of.name}`, {
      kind: "position",
      latitude_deg: latitude,
      longitude_deg: longitude,
      accuracy_m: accuracy,
      elevation_m: elevation,
    });
  const { latitude, longitude, accuracy } = typed;
  return (
    <>
      <Box mb="2">Hold the device over the tripod, under open sky. It gets better for half a minute.</Box>
      <Sensing sensed={sensed} ask={ask} what="Find where I stand">
        {(at) => (
          <>
            <Live
              value={`${at.latitude.toFixed(5)}, ${at.longitude.toFixed(5)}`}
              note={`± ${Math.round(at.accuracy)} m, as this device says`}
            />
            <Button h="52px" w="100%" variant="solid" onClick={() => keep(at.latitude, at.longitude, at.accuracy, at.elevation)}>
              Keep this position
            </Button>
          </>
        )}
      </Sensing>
      <More title="Type it">
        <Flex direction="column" gap="2">
          <NumberField label="latitude, degrees" value={latitude} onCommit={(v) => setTyped({ ...typed, latitude: v })} />
          <NumberField label="longitude, degrees" value={longitude} onCommit={(v) => setTyped({ ...typed, longitude: v })} />
          <NumberField label="right within, m" value={accuracy} onCommit={(v) => setTyped({ ...typed, accuracy: v })} />
          <Button
            h="48px"
            disabled={latitude === null || longitude === null}
            onClick={() => latitude !== null && longitude !== null && keep(latitude, longitude, accuracy ?? USUAL_TYPED_M, null)}
          >
            Keep what is typed
          </Button>
        </Flex>
      </More>
    </>
  );
}
