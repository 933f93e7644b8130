import { Box, Button, Flex } from "@chakra-ui/react";
import { useState } from "react";

import { ChoiceField, TextField } from "../shell/fields";
import { typedValue } from "../workbench/typed";
import type { Of } from "./MeasurePage";
import { recordMeasured } from "./record";

/** A meter reading as the camera shows it. */
export function ReadingMeasure({ of }: { of: Of }) {
  const [aperture, setAperture] = useState("f/8");
  const [shutter, setShutter] = useState("");
  const [iso, setIso] = useState("100");
  const [element, setElement] = useState("");
  const [n, t, s] = [typedValue(aperture), typedValue(shutter), typedValue(iso)];
  const whole = Boolean(n && t && s);
  return (
    <Flex direction="column" gap="2">
      <Box>As the camera shows it, with nothing before the lens.</Box>
      <TextField label="aperture" value={aperture} onCommit={setAperture} error={n ? undefined : "Such as f/11."} />
      <TextField
        label="shutter"
        value={shutter}
        onCommit={setShutter}
        placeholder="1/125"
        error={shutter === "" || t ? undefined : "Such as 1/125, 0.5 s or 2 min."}
      />
      <TextField label="ISO" value={iso} onCommit={setIso} error={s ? undefined : "Such as 100."} />
      <ChoiceField
        label="metered on"
        value={element}
        options={[["", "the whole picture"], ...of.elements.map((one) => [one.id, one.name] as const)]}
        onCommit={setElement}
      />
      <Button
        h="52px"
        variant="solid"
        disabled={!whole}
        onClick={() =>
          n &&
          t &&
          s &&
          void recordMeasured(of.id, `Reading for ${of.name}`, {
            kind: "reading",
            aperture_n: n,
            shutter_s: t,
            iso: s,
            element_id: element || null,
          })
        }
      >
        Keep this reading
      </Button>
    </Flex>
  );
}
