import { Box, Button, Flex } from "@chakra-ui/react";

import type { ExposureStudy } from "../../../api/types";
import { NumberField } from "../../../shell/fields";
import { useBench } from "../../context";
import { Part, Table } from "../parts";

/** The table to carry, what reaches a time, and what to know of the filters on this lens. */
export function FiltersPart({
  study,
  wanted,
  onWanted,
}: {
  study: ExposureStudy["filters"];
  wanted: number | null;
  onWanted: (seconds: number | null) => void;
}) {
  const { store } = useBench();
  return (
    <>
      <Part title="Which filters reach a time">
        <Flex gap="3" align="end" wrap="wrap">
          <NumberField
            width="170px"
            label="open for (empty: for the look)"
            unit="s"
            empty
            value={wanted}
            onCommit={(v) => (v === null || v > 0) && onWanted(v)}
          />
          <Box fontSize="13px" pb="6px">
            looking for <b>{study.wanted}</b>
          </Box>
        </Flex>
        <Table>
          <tbody>
            {study.reach.map((row) => (
              <tr key={row.name}>
                <td className="wrap">{row.name}</td>
                <td>{row.shutter}</td>
                <td className={row.reaches ? "good" : "note"}>{row.off}</td>
                <td>
                  <Button onClick={() => store.act("filters", ...row.changes)} aria-label={`Put on: ${row.name}`}>
                    Put on
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      </Part>
      {study.notes.length > 0 ? (
        <Part title="On this lens">
          {study.notes.map((note) => (
            <Box key={note.name + note.text} fontSize="13.5px" color={note.warns ? "rust" : "ink"}>
              <b>{note.name}:</b> {note.text}
            </Box>
          ))}
        </Part>
      ) : null}
      <Part title="Field table: base shutter to filtered shutter">
        {study.table.columns.length === 0 ? (
          <Box color="muted">No neutral density owned. Add a filter to the kit to reach longer times.</Box>
        ) : null}
        <Box overflowX="auto" tabIndex={0}>
          <Table>
            <thead>
              <tr>
                <th>base</th>
                {study.table.columns.map((name, i) => (
                  <th key={name} className="wrap">
                    {name}
                    <br />
                    {study.table.stops[i]}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {study.table.rows.map((row) => (
                <tr key={row.base}>
                  <td>{row.base}</td>
                  {row.filtered.map((text, i) => (
                    <td key={i}>{text}</td>
                  ))}
                </tr>
              ))}
            </tbody>
          </Table>
        </Box>
        {study.table.film_text ? <Box fontSize="13px">{study.table.film_text}</Box> : null}
      </Part>
    </>
  );
}
