import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useState } from "react";
import { useNavigate } from "react-router";

import type { SequenceOut, SpotTable } from "../api/types";
import { ChoiceField } from "../shell/fields";
import { notify } from "../shell/notices";
import { OnSpot } from "./OnSpot";
import { Stepper } from "./Stepper";
import { keepProgress, recall } from "./useCarryOut";

/** The light is different from the plan's: what to set instead, without a connection. */
export default function SpotPage() {
  return <OnSpot>{(table, sequence) => <Answers table={table} sequence={sequence} />}</OnSpot>;
}

const Cell = chakra("td", { base: { py: "5px", pr: "2", borderTopWidth: "1px", borderColor: "line", verticalAlign: "top" } });

/** The light expected next to now, if the sequence is carried out about when it was planned for. */
function nearestLight(table: SpotTable): number {
  const now = Date.now();
  const away = table.light.map((one) => Math.abs(Date.parse(one.at_utc) - now));
  const least = Math.min(...away);
  const planned = table.light.findIndex((one) => one.minutes === 0);
  return least < 5 * 60_000 ? away.indexOf(least) : planned;
}

function Answers({ table, sequence }: { table: SpotTable; sequence: SequenceOut }) {
  const go = useNavigate();
  const [moment, setMoment] = useState(() => nearestLight(table));
  const [off, setOff] = useState(0);
  const [filters, setFilters] = useState(0);
  const [aperture, setAperture] = useState(table.own_aperture);
  const light = table.light[moment];
  // More light is a shorter time on the meter: a row nearer the start.
  const wanted = table.expected - (light?.thirds ?? 0) + off;
  const last = table.readings.length - 1;
  const reading = Math.min(Math.max(wanted, 0), last);
  const cell = table.cells[filters]?.[aperture]?.[reading];
  const ledger = table.ledgers[filters]?.[aperture]?.[reading] ?? [];
  const shutter = table.shutters[cell?.[0] ?? 0];
  const held = table.apertures[aperture];
  if (!cell || !shutter || !held) return null;
  const [, iso, frames, total, note] = cell;
  const same = frames === sequence.plan.sequence.frames.length;
  const move = (by: number) => (reading + by < 0 || reading + by > last ? undefined : () => setOff(reading + by - wanted + off));
  const take = async () => {
    const words = `metered ${table.readings[reading]} at ${table.metered_at}; ${held.text}, ISO ${table.isos[iso]}, in front: ${table.filters[filters]}: ${shutter.text}`;
    const instead = {
      words,
      aperture: held.text,
      iso: table.isos[iso] ?? "",
      filters: filters === 0 ? (sequence.plan.sequence.frames.at(-1)?.filters ?? "") : (table.filters[filters] ?? ""),
      bracket: shutter.bracket,
    };
    await keepProgress(sequence.id, { ...recall(sequence.id), instead });
    notify({ title: "The sequence goes on with it", detail: words });
    void go(`/field/${sequence.id}`);
  };
  return (
    <>
      <chakra.h1 fontSize="24px" fontWeight="700" lineHeight="1.2">
        The light is different
      </chakra.h1>
      <Stepper
        label="Light as expected at"
        value={light?.clock_text ?? ""}
        note={light?.minutes === 0 ? "as planned" : `${light?.stops_text ?? ""} stops`}
        less="Earlier"
        more="Later"
        onLess={moment > 0 ? () => setMoment(moment - 1) : undefined}
        onMore={moment < table.light.length - 1 ? () => setMoment(moment + 1) : undefined}
      />
      <Stepper
        label={`The meter says, at ${table.metered_at}`}
        value={table.readings[reading] ?? ""}
        note={off === 0 && reading === wanted ? "expected" : "nothing before the lens"}
        less="Brighter"
        more="Darker"
        onLess={move(-1)}
        onMore={move(1)}
      />
      {reading !== wanted ? (
        <Box role="alert" color="rust" fontSize="14px">
          The light expected then is beyond the table: this is its end.
        </Box>
      ) : null}
      <Box py="6px" css={{ "& select": { height: "52px", fontSize: "18px" } }}>
        <ChoiceField
          label="In front of the lens"
          value={String(filters)}
          options={table.filters.map((one, k) => [String(k), k === 0 ? `${one} (as planned)` : one] as const)}
          onCommit={(v) => setFilters(Number(v))}
        />
      </Box>
      <Stepper
        label="Aperture"
        value={held.text}
        note={`sharp: ${held.holds}`}
        less="Wider"
        more="Narrower"
        onLess={aperture > 0 ? () => setAperture(aperture - 1) : undefined}
        onMore={aperture < table.apertures.length - 1 ? () => setAperture(aperture + 1) : undefined}
      />
      <Box borderWidth="1px" borderColor="line" bg="panel" px="14px" py="10px" my="8px" role="status" data-testid="spot-answer">
        <Flex align="baseline" justify="space-between" gap="3">
          <Box fontFamily="mono" fontSize="40px" fontWeight="700" lineHeight="1.1" data-testid="spot-shutter">
            {shutter.text}
          </Box>
          <Box fontFamily="mono" fontSize="20px">
            ISO {table.isos[iso]}
          </Box>
        </Flex>
        <Box fontSize="15px">
          {frames} {frames === 1 ? "frame" : "frames"}, {table.totals[total]} in all; the light changes by{" "}
          {table.drifts[light?.drifts[total] ?? 0]} meanwhile
        </Box>
        {shutter.moves.map((one) => (
          <Box key={one} fontSize="14px">
            {one}
          </Box>
        ))}
        {table.notes[note] ? (
          <Box color="rust" fontWeight="600" fontSize="14px">
            {table.notes[note]}
          </Box>
        ) : null}
      </Box>
      <chakra.table w="100%" fontSize="14px" mb="3" data-testid="spot-ledger" css={{ borderCollapse: "collapse" }}>
        <chakra.caption textAlign="left" fontSize="13px" color="muted">
          The account
        </chakra.caption>
        <tbody>
          <tr>
            <Cell>Reading, {table.metered_at}</Cell>
            <Cell />
            <Cell fontFamily="mono" textAlign="right" pr="0" whiteSpace="nowrap">
              {table.readings[reading]}
            </Cell>
          </tr>
          {ledger.map(([label, stops, time], k) => (
            <tr key={k}>
              <Cell>{table.labels[label]}</Cell>
              <Cell fontFamily="mono" whiteSpace="nowrap">
                {table.stops[stops]}
              </Cell>
              <Cell fontFamily="mono" textAlign="right" pr="0" whiteSpace="nowrap">
                {table.times[time]}
              </Cell>
            </tr>
          ))}
        </tbody>
      </chakra.table>
      <Box flex="1" />
      {same ? (
        <Button variant="solid" size="xl" w="100%" onClick={() => void take()}>
          Go on with {shutter.text}
        </Button>
      ) : (
        <Box color="muted" fontSize="14px">
          This takes {frames} frames where the sequence has {sequence.plan.sequence.frames.length}: make the sequence anew on the
          workbench when there is a connection, or choose an aperture with as many.
        </Box>
      )}
    </>
  );
}
