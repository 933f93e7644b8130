import { Box } from "@chakra-ui/react";

import type { ExposureStudy, Wants } from "../../../api/types";
import { NumberField } from "../../../shell/fields";
import { Fig, useBench } from "../../context";
import { Facts, Part, Table } from "../parts";

/** Land under Moon and stars, and how long stars stay points. */
export function NightPart({ study }: { study: ExposureStudy["night"] }) {
  const { store, state } = useBench();
  const { wants } = state.draft.composition;
  const want = (part: Partial<Wants>) => store.compose("wants", (c) => ({ wants: { ...c.wants, ...part } }));
  if (!study)
    return (
      <Part title="Night">
        <Box color="muted">
          From blue hour on, with the sun 6° below the horizon: what Moon and stars give, and how long stars stay points. Move the
          moment on the ribbon into the night.
        </Box>
      </Part>
    );
  return (
    <>
      <Part title="Land by night">
        <Facts
          rows={[
            ["level ground as a mid-tone", study.land],
            ["light", study.light],
            ["from", study.light_text],
          ]}
        />
        <Box fontSize="12px" color="muted">
          Under a clear sky, away from towns. A town on the horizon gives more; cloud gives less. Meter when you are there.
        </Box>
      </Part>
      <Part
        title="Stars as points"
        side={
          <NumberField
            width="120px"
            label="trail at most"
            unit="px"
            step={1}
            value={wants.star_trail_px}
            onCommit={(v) => v && want({ star_trail_px: v })}
          />
        }
      >
        <Table>
          <thead>
            <tr>
              <th>stars</th>
              <th>declination</th>
              <th>no longer than</th>
            </tr>
          </thead>
          <tbody>
            {study.stars.map((row) => (
              <tr key={row.where + row.declination.text}>
                <td>{row.where}</td>
                <td>{row.declination.text}</td>
                <td>
                  <Fig figure={row.longest} />
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      </Part>
    </>
  );
}
