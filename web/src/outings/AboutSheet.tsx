import { Box, Button, Flex } from "@chakra-ui/react";

import type { Outing, OutingDay, OutingRide, OutingSpot } from "../api/types";
import { ChoiceField, NumberField } from "../shell/fields";
import { More } from "../shell/More";
import { Sheet } from "../shell/Sheet";
import { dateAfter } from "./outingActs";
import { SpotField, WhenField } from "./timeFields";

const RULES = [
  ["naismith", "Naismith: 5 km an hour, and an hour for 600 m up"],
  ["langmuir", "Langmuir: Naismith, and the way down counted"],
  ["tobler", "Tobler: by the slope, step for step"],
] as const;
const BY = [
  ["car", "by car"],
  ["boat", "by boat"],
  ["other", "otherwise"],
] as const;

interface Props {
  outing: Outing;
  spots: readonly OutingSpot[];
  problem: (pointer: string) => string | undefined;
  onChange: (change: (before: Outing) => Outing) => void;
  onClose: () => void;
}

function DayFields({ day, at, props }: { day: OutingDay; at: number; props: Props }) {
  const { outing, spots, onChange, problem } = props;
  const put = (part: Partial<OutingDay>) =>
    onChange((before) => ({ ...before, days: before.days.map((one, k) => (k === at ? { ...one, ...part } : one)) }));
  return (
    <Box borderTopWidth={at ? "1px" : "0"} borderColor="line" pt={at ? "3" : "0"}>
      <Flex gap="3" wrap="wrap" align="end">
        <WhenField
          label={outing.days.length > 1 ? `Day ${at + 1}` : "Day"}
          type="date"
          value={day.date}
          error={problem(`/days/${at}/date`)}
          onCommit={(date) => put({ date })}
        />
        <WhenField label="Not out before" type="time" value={day.leave_from} onCommit={(leave_from) => put({ leave_from })} />
        <WhenField label="Back by" type="time" value={day.back_by} onCommit={(back_by) => put({ back_by })} />
        {outing.days.length > 1 ? (
          <Button
            aria-label={`Take day ${at + 1} out`}
            onClick={() =>
              onChange((before) => ({
                ...before,
                days: before.days.filter((_, k) => k !== at),
                visits: before.visits.map((one) => ({
                  ...one,
                  day: one.day === at ? null : one.day !== null && one.day > at ? one.day - 1 : one.day,
                })),
              }))
            }
          >
            Take out
          </Button>
        ) : null}
      </Flex>
      {outing.days.length > 1 ? (
        <Flex gap="3" mt="2">
          <SpotField
            label="Starts at"
            width="220px"
            value={day.start}
            spots={spots}
            none="as the outing"
            onCommit={(start) => put({ start })}
          />
          <SpotField
            label="Ends at"
            width="220px"
            value={day.end}
            spots={spots}
            none={day.start ? "where it starts" : "as the outing"}
            onCommit={(end) => put({ end })}
          />
        </Flex>
      ) : null}
    </Box>
  );
}

function RideFields({ ride, at, props }: { ride: OutingRide; at: number; props: Props }) {
  const { spots, onChange } = props;
  const put = (part: Partial<OutingRide>) =>
    onChange((before) => ({ ...before, rides: before.rides.map((one, k) => (k === at ? { ...one, ...part } : one)) }));
  return (
    <Flex gap="2" wrap="wrap" align="end">
      <SpotField
        label="From"
        width="170px"
        value={ride.from_spot}
        spots={spots}
        onCommit={(spot) => spot && put({ from_spot: spot })}
      />
      <SpotField label="To" width="170px" value={ride.to_spot} spots={spots} onCommit={(spot) => spot && put({ to_spot: spot })} />
      <NumberField
        label="takes"
        unit="min"
        step={5}
        width="96px"
        value={ride.minutes}
        onCommit={(v) => v !== null && put({ minutes: v })}
      />
      <ChoiceField label="how" width="110px" value={ride.by} options={BY} onCommit={(by) => put({ by })} />
      <Button onClick={() => onChange((before) => ({ ...before, rides: before.rides.filter((_, k) => k !== at) }))}>
        Take out
      </Button>
    </Flex>
  );
}

/** When one is out, from where to where, and how fast one gets about. */
export function AboutSheet(props: Props) {
  const { outing, spots, onChange, onClose, problem } = props;
  const { pace } = outing;
  const factor = (label: string, key: "own" | "load" | "darkness" | "ground", hint: string) => (
    <NumberField
      label={label}
      width="150px"
      hint={hint}
      step={0.1}
      value={pace[key]}
      error={problem(`/pace/${key}`)}
      onCommit={(v) => v !== null && onChange((before) => ({ ...before, pace: { ...before.pace, [key]: v } }))}
    />
  );
  const addDay = () =>
    onChange((before) => {
      const last = before.days.at(-1);
      return last ? { ...before, days: [...before.days, { ...last, date: dateAfter(last.date, 1) }] } : before;
    });
  const addRide = () => {
    const to = spots.find((one) => one.name !== outing.start.name);
    if (to)
      onChange((before) => ({
        ...before,
        rides: [...before.rides, { from_spot: before.start, to_spot: to, minutes: 30, by: "car" as const }],
      }));
  };
  return (
    <Sheet
      title="Days and ways"
      wide
      open
      onClose={onClose}
      footer={
        <Button variant="solid" onClick={onClose}>
          Done
        </Button>
      }
    >
      <Flex direction="column" gap="4">
        {outing.days.map((day, at) => (
          <DayFields key={at} day={day} at={at} props={props} />
        ))}
        {outing.days.length < 14 ? (
          <Box>
            <Button onClick={addDay}>One more day</Button>
          </Box>
        ) : null}
        <Flex gap="3" wrap="wrap">
          <SpotField
            label="Starts at"
            width="240px"
            value={outing.start}
            spots={spots}
            onCommit={(start) => start && onChange((before) => ({ ...before, start }))}
          />
          <SpotField
            label="Ends at"
            width="240px"
            value={outing.end}
            spots={spots}
            none="where it starts"
            onCommit={(end) => onChange((before) => ({ ...before, end }))}
          />
        </Flex>
        <Box>
          <Box fontWeight="700" fontSize="14px" mb="2">
            Drives and boats
          </Box>
          <Flex direction="column" gap="2">
            {outing.rides.map((ride, at) => (
              <RideFields key={at} ride={ride} at={at} props={props} />
            ))}
          </Flex>
          <Button mt="2" onClick={addRide} disabled={spots.length < 2 || outing.rides.length >= 20}>
            Add a drive
          </Button>
          <Box color="muted" fontSize="12.5px" mt="1">
            What is not driven is walked: by a drawn or imported path, else over the terrain.
          </Box>
        </Box>
        <More title="How you walk" open={Boolean(problem("/pace/own") ?? problem("/pace/load"))}>
          <ChoiceField
            label="Walking time by"
            value={pace.rule}
            options={RULES}
            onCommit={(rule) => onChange((before) => ({ ...before, pace: { ...before.pace, rule } }))}
          />
          <Flex gap="3" wrap="wrap">
            {factor("You", "own", "1.2: a fifth slower")}
            {factor("Load", "load", "of what you carry")}
            {factor("By lamp", "darkness", "1.3: a third slower")}
            {factor("Ground", "ground", "snow, bog, boulders")}
          </Flex>
        </More>
      </Flex>
    </Sheet>
  );
}
