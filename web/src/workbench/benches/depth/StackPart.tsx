import { Box, Button, Flex } from "@chakra-ui/react";

import type { DepthReport, SharpnessStudy } from "../../../api/types";
import { EvenRuler } from "../../../instruments/EvenRuler";
import { TickField } from "../../../shell/fields";
import { Fig, useBench } from "../../context";
import { Part, Table } from "../parts";

const WHAT = { nearest: "nearest", focus: "focus", farthest: "farthest", third_in: "for comparison" } as const;

/** The slices with what each holds, and the card of places to magnify. */
export function StackPart({ depth, study, slicing }: { depth: DepthReport; study: SharpnessStudy; slicing: React.ReactNode }) {
  const { store, state } = useBench();
  const { technique } = state.draft.composition;
  return (
    <>
      <Part word="slice" title="Slices" side={slicing}>
        <EvenRuler depth={depth} />
        {depth.slices_problem ? (
          <Box role="alert" color="rust">
            {depth.slices_problem}
          </Box>
        ) : null}
        {technique.slices === "gapless" ? (
          <TickField
            label="only what must be sharp; the air between may stay soft"
            value={technique.only_critical}
            onCommit={(only_critical) => store.compose("critical", (c) => ({ technique: { ...c.technique, only_critical } }))}
          />
        ) : null}
        <Table>
          <thead>
            <tr>
              <th>slice</th>
              <th className="left">focus</th>
              <th className="left">sharp</th>
              <th className="left">holds</th>
              <th className="left">focus on, nearest edge</th>
              <th className="left">take from it what moves</th>
            </tr>
          </thead>
          <tbody>
            {study.stack.slice(0, 60).map((row) => (
              <tr key={row.number}>
                <td>{row.number}</td>
                <td className="left">
                  <Fig figure={row.focus} />
                </td>
                <td className="left">{row.keeps}</td>
                <td className="left wrap">{row.holds}</td>
                <td className="left wrap">{row.edge || "nothing to hold on to"}</td>
                <td className="left wrap">{row.moving || "–"}</td>
              </tr>
            ))}
          </tbody>
        </Table>
        {study.stack.length > 60 ? <Box fontSize="13px">and {study.stack.length - 60} more</Box> : null}
        <Flex gap="3" mt="2" align="center" wrap="wrap">
          {study.snapped.length > 0 ? (
            <>
              <Button variant="outline" onClick={() => store.act("snap", ...study.snapped)}>
                Focus on the edges
              </Button>
              <Box fontSize="13px" flex="1">
                {study.snapped_text}
              </Box>
            </>
          ) : null}
          {study.stack.length > 1 && technique.slices !== "rail" && technique.slices !== "sway" ? (
            <Box fontSize="13px">
              breathing <Fig figure={study.breathing} />: frame that much wider
            </Box>
          ) : null}
        </Flex>
      </Part>
      <Part title="Focus check: magnify these">
        <Table>
          <tbody>
            {study.check.map((row) => (
              <tr key={row.what} data-testid={`check-${row.what}`}>
                <td className="note">{WHAT[row.what]}</td>
                <td className="left wrap">{row.name}</td>
                <td>
                  <Fig figure={row.distance} />
                </td>
                <td className="left">{row.where}</td>
                <td className={row.sharp ? "good" : "soft"}>
                  <Fig figure={row.blur} /> {row.sharp ? "sharp" : "soft"}
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      </Part>
    </>
  );
}
