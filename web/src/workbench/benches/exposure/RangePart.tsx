import { Box, Button } from "@chakra-ui/react";

import type { Change, ExposureStudy, RangeReport } from "../../../api/types";
import { Fig, useBench } from "../../context";
import { Part, Table } from "../parts";

/** Grad against bracket against both; and how far the exposure may go up. */
export function RangePart({ study, range }: { study: ExposureStudy; range: RangeReport }) {
  const { store } = useBench();
  return (
    <>
      <Part title="Graduated filter, bracket, or both">
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
                <td className={row.holds ? "good" : "soft"}>{row.holds ? "holds" : <>loses <Fig figure={row.lost} /></>}</td>
                <td>
                  <Button onClick={() => store.act("range", ...(row.changes as Change[]))} aria-label={`Use: ${row.name}`}>
                    Use
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      </Part>
      {range.right ? (
        <Part title="Expose to the right" side={<Button onClick={() => store.act("offset", ...(range.right_changes as Change[]))}>Expose so</Button>}>
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
