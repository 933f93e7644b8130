import { Box, Button, Flex } from "@chakra-ui/react";

import type { ExposureStudy } from "../../../api/types";
import { Fig, useBench } from "../../context";
import { Part, Table } from "../parts";

/** What the polariser does to each thing, and the looks that it can be turned to. */
export function PolariserPart({ study }: { study: ExposureStudy["polariser"] }) {
  const { store } = useBench();
  if (!study)
    return (
      <Part title="Polariser">
        <Box color="muted">No polariser owned. Add a filter of that kind to the kit to see what it would do here.</Box>
      </Part>
    );
  return (
    <Part title={study.on ? `${study.name}, ${Math.round(study.strength * 100)}% turned in` : `${study.name}, not on`}>
      <Flex gap="2" wrap="wrap" mb="2" role="group" aria-label="Turn the polariser to a look">
        {study.looks.map((row) => (
          <Button
            key={row.look}
            variant={row.in_use ? "solid" : "outline"}
            aria-pressed={row.in_use}
            onClick={() => store.act("polariser", ...row.changes)}
          >
            {row.name}
          </Button>
        ))}
      </Flex>
      {study.things.length === 0 ? (
        <Box color="muted">Nothing in this frame is polarised: no clear sky at an angle to the sun, no water, nothing wet.</Box>
      ) : (
        <Table>
          <thead>
            <tr>
              <th>on top of what it takes from everything</th>
              <th>its light is polarised</th>
              <th>now</th>
              <th>at most</th>
            </tr>
          </thead>
          <tbody>
            {study.things.map((row) => (
              <tr key={row.id}>
                <td className="wrap">{row.name}</td>
                <td>
                  <Fig figure={row.degree} />
                </td>
                <td>
                  <Fig figure={row.now} />
                </td>
                <td>
                  <Fig figure={row.most} />
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      <Box fontSize="13px" color="muted">
        {study.note}
      </Box>
    </Part>
  );
}
