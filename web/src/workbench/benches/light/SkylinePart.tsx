import { Box } from "@chakra-ui/react";

import { SkylineStrip } from "../../../instruments/SkylineStrip";
import { Trouble } from "../../../shell/states";
import { Fig } from "../../context";
import { Part, Table } from "../parts";
import { useSkyline } from "./useLight";

/** What hides the sun, and when it reaches the standpoint and each element. */
export function SkylinePart() {
  const skyline = useSkyline();
  if (skyline.isError && !skyline.data) return <Trouble error={skyline.error} again={() => void skyline.refetch()} />;
  const strip = skyline.data;
  return (
    <Part
      title="Skyline, sun and moon through the day"
      side={
        strip?.ground ? (
          <Box fontSize="13px">
            ground here <Fig figure={strip.ground} />
          </Box>
        ) : null
      }
    >
      {strip ? (
        <>
          <SkylineStrip strip={strip} />
          {strip.note ? (
            <Box role="note" color="rust" fontSize="13px" mt="1">
              {strip.note}
            </Box>
          ) : null}
          <Table>
            <thead>
              <tr>
                <th>the sun reaches</th>
                <th>first</th>
                <th className="left">direct sun, clear sky</th>
                <th className="left">now</th>
              </tr>
            </thead>
            <tbody data-testid="arrivals">
              {strip.arrivals.map((one) => (
                <tr key={one.id ?? "standpoint"}>
                  <td>{one.name}</td>
                  <td>
                    <Fig figure={one.first} />
                  </td>
                  <td className="left wrap">{one.text}</td>
                  <td className="left wrap">
                    {one.lit_now ? "in the sun" : "in shade"}
                    {one.lit_now && one.face_text ? `, ${one.face_text}` : ""}
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        </>
      ) : (
        <Box color="muted">Looking round …</Box>
      )}
    </Part>
  );
}
