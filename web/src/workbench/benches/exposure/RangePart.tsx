import { Box, Button, Flex } from "@chakra-ui/react";
import { useState } from "react";

import type { ExposureStudy, RangeReport } from "../../../api/types";
import { ChoiceField, NumberField, TextField } from "../../../shell/fields";
import { Fig, useBench } from "../../context";
import { typedValue } from "../../typed";
import { Part, Table } from "../parts";

/** Spot readings as the meter shows them, element by element. */
function SpotReadings() {
  const { store, state } = useBench();
  const { elements } = state.draft.composition;
  const [element, setElement] = useState(elements[0]?.id ?? "");
  const chip = (name: string) => state.evaluation?.setting_summaries.find((one) => one.setting === name)?.text ?? "";
  const [aperture, setAperture] = useState(chip("aperture"));
  const [iso, setIso] = useState(Number(chip("iso")) || 100);
  const [wrong, setWrong] = useState<string>();
  if (elements.length === 0) return null;
  return (
    <Part title="Spot readings, element by element">
      <Flex gap="3" align="end" wrap="wrap">
        <ChoiceField
          width="170px"
          label="read on"
          value={element}
          options={elements.map((e) => [e.id, e.name] as const)}
          onCommit={setElement}
        />
        <TextField
          width="110px"
          label="the meter's aperture"
          value={aperture}
          error={typedValue(aperture) ? undefined : "like f/8"}
          onCommit={setAperture}
        />
        <NumberField width="90px" label="its ISO" value={Math.round(iso)} step={100} onCommit={(v) => v && v > 0 && setIso(v)} />
        <TextField
          width="120px"
          label="it shows"
          value=""
          placeholder="1/60"
          error={wrong}
          onCommit={(text) => {
            const shutter_s = typedValue(text);
            setWrong(shutter_s ? undefined : "like 1/60 or 4 s");
            const aperture_n = typedValue(aperture);
            if (shutter_s && aperture_n) store.act("spot", { kind: "spot", element_id: element, aperture_n, shutter_s, iso });
          }}
        />
      </Flex>
      <Box fontSize="13px" color="muted" mt="1">
        {elements
          .filter((e) => e.reading_ev100 !== null)
          .map((e) => `${e.name} EV ${Number((e.reading_ev100 ?? 0).toFixed(1))}`)
          .join(" · ") || "None read yet."}
      </Box>
    </Part>
  );
}

/** Grad against bracket against both; and how far the exposure may go up. */
export function RangePart({ study, range }: { study: ExposureStudy; range: RangeReport }) {
  const { store } = useBench();
  return (
    <>
      <SpotReadings />
      <Part word="bracket" title="Graduated filter, bracket, or both">
        {study.range_ways.length === 0 ? <Box color="muted">Give elements a spot reading on the Frame bench to see it.</Box> : null}
        <Table>
          <tbody>
            {study.range_ways.map((row) => (
              <tr key={row.name} data-testid={`range-${row.kind}`}>
                <td className="wrap">
                  {row.name}
                  {row.darkens.length > 0 ? (
                    <Box fontSize="12px" color="rust">
                      darkens {row.darkens.join(", ")}
                    </Box>
                  ) : null}
                  {row.blend ? (
                    <Box fontSize="12px" color="muted">
                      {row.blend}
                    </Box>
                  ) : null}
                </td>
                <td>{row.frames === 1 ? "1 frame" : `${row.frames} frames`}</td>
                <td className={row.holds ? "good" : "soft"}>
                  {row.holds ? (
                    "holds"
                  ) : (
                    <>
                      loses <Fig figure={row.lost} />
                    </>
                  )}
                </td>
                <td>
                  <Button onClick={() => store.act("range", ...row.changes)} aria-label={`Use: ${row.name}`}>
                    Use
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      </Part>
      {range.right ? (
        <Part
          title="Expose to the right"
          side={<Button onClick={() => store.act("offset", ...range.right_changes)}>Expose to the right</Button>}
        >
          <Box>
            By <Fig figure={range.right} strong /> stops. {range.right_text}
          </Box>
          <Box fontSize="13px" color="muted">
            The other school meters and counts, and leaves the picture as bright as the scene.
          </Box>
        </Part>
      ) : null}
      {range.doubt_text ? <Box fontSize="13px">{range.doubt_text}</Box> : null}
    </>
  );
}
