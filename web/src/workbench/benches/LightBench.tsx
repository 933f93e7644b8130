import { Box, Button, Flex, Input } from "@chakra-ui/react";

import type { LightReport, PlaceOut } from "../../api/types";
import { ChoiceField, NumberField, Segments } from "../../shell/fields";
import { Fig, useBench } from "../context";
import type { Surroundings } from "../scene";
import { AlignmentPart } from "./light/AlignmentPart";
import { LightWindowsPart } from "./light/LightWindowsPart";
import { EventsPart } from "./light/EventsPart";
import { SkylinePart } from "./light/SkylinePart";
import { useDrift } from "./light/useLight";
import { GOLDEN } from "./light/golden";
import { Facts, Part, Table } from "./parts";
import { useSide } from "./useSide";

const DAY_MS = 86_400_000;
const SIDES = [
  ["now", "Now"],
  ["skyline", "Skyline"],
  ["windows", "Light windows"],
  ["place", "Sun or moon in place"],
  ["day", "Day"],
] as const;
type Side = (typeof SIDES)[number][0];

function Polariser({ light }: { light: LightReport }) {
  const found = light.polariser;
  if (!found) return null;
  return (
    <Part title="A polariser here">
      <Facts
        rows={[
          ["sky, left edge", found.left],
          ["sky, middle", found.middle],
          ["sky, right edge", found.right],
          ...(found.glare ? ([["glare off the water", found.glare]] as const) : []),
          ...(found.glare_angle ? ([["seen at, best at 53°", found.glare_angle]] as const) : []),
        ]}
      />
      <Box mt="1" color={found.banded ? "rust" : "muted"} fontWeight={found.banded ? "700" : "400"} fontSize="13px">
        {found.text}
      </Box>
    </Part>
  );
}

function Drift({ light }: { light: LightReport }) {
  const drift = useDrift();
  return (
    <Part
      title="How the light on what you metered moves, in stops"
      side={
        <Box fontSize="13px">
          on level ground {light.rising ? "a stop more in" : "a stop less in"} <Fig figure={light.minutes_per_stop} />
        </Box>
      }
    >
      <Flex gap="0" wrap="wrap" align="end">
        {light.drift.map((one) => (
          <Box key={one.minutes} px="10px" borderLeftWidth="1px" borderColor="line">
            <Box fontSize="12px" color="muted">
              {one.minutes > 0 ? "+" : "−"}
              {Math.abs(one.minutes)} min
            </Box>
            <Fig figure={one.stops} />
          </Box>
        ))}
        <Flex gap="2" align="end" px="10px" borderLeftWidth="1px" borderColor="line">
          <NumberField width="96px" label="or after" unit="min" empty value={drift.minutes} onCommit={drift.ask} />
          <Box fontFamily="mono" pb="6px" data-testid="drift-asked">
            {drift.text}
          </Box>
        </Flex>
      </Flex>
    </Part>
  );
}

function Conditions({ light, trouble }: { light: LightReport; trouble: string }) {
  const { store, state } = useBench();
  const { forecast, tide } = light.ribbon;
  const cloud = forecast?.cloud_stops.value;
  return (
    <Part
      title="Sky and water"
      side={
        forecast?.simulated ? (
          <Box color="rust" fontWeight="700" fontSize="12.5px">
            simulated
          </Box>
        ) : null
      }
    >
      {forecast ? (
        <>
          <Facts
            rows={[
              ["cloud, with forecast", forecast.cloud],
              ["it takes", forecast.cloud_stops],
              ["wind, with forecast", forecast.wind],
            ]}
          />
          <Box fontSize="12px" color="muted">
            {forecast.text}. Follow your own forecast and what you see.
          </Box>
        </>
      ) : trouble ? (
        <Box color="muted">{trouble}</Box>
      ) : null}
      {tide ? (
        <Box mt="2">
          <Facts
            rows={[
              [`tide, ${tide.rising ? "rising" : "falling"}`, tide.now],
              ["next", tide.turn_text],
            ]}
          />
          <Box fontSize="12px" color="rust">
            Weather moves the water too. Follow the local tide table, and keep your way out.
          </Box>
        </Box>
      ) : null}
      <Flex gap="3" align="end" mt="2">
        <NumberField
          width="170px"
          label="cloud dims the ground by"
          unit="stops"
          step={0.5}
          value={state.draft.composition.cloud_stops}
          onCommit={(v) => v !== null && store.compose("cloud", () => ({ cloud_stops: v }))}
          hint="Counts only while nothing is metered."
        />
        {typeof cloud === "number" ? (
          <Button onClick={() => store.compose("cloud", () => ({ cloud_stops: Math.round(cloud * 2) / 2 }))}>
            Take the forecast's
          </Button>
        ) : null}
      </Flex>
    </Part>
  );
}

interface Props {
  light: LightReport;
  around: Surroundings;
  onEvent: (utc: string) => void;
  weatherTrouble: string;
}

/** When the light is, and what it is on this view. */
export function LightBench({ light, around, onEvent, weatherTrouble }: Props) {
  const { state } = useBench();
  const place = around.places.find((one) => one.id === state.draft.place_id);
  const [side, choose] = useSide<Side>("light", SIDES, "now");
  return (
    <>
      <Box mb="8px">
        <Segments label="Light" value={side} options={SIDES} onCommit={choose} />
      </Box>
      {side === "now" ? (
        <>
          <Now light={light} />
          <Things light={light} />
          <Drift light={light} />
          <Polariser light={light} />
          <Conditions light={light} trouble={weatherTrouble} />
        </>
      ) : null}
      {side === "skyline" ? <SkylinePart /> : null}
      {side === "windows" ? <LightWindowsPart place={place} onMoment={onEvent} /> : null}
      {side === "place" ? <AlignmentPart place={place} onMoment={onEvent} /> : null}
      {side === "day" ? <Day light={light} place={place} onEvent={onEvent} /> : null}
    </>
  );
}

function Now({ light }: { light: LightReport }) {
  return (
    <Part
      title="On this view, at the moment"
      side={
        <Box fontWeight="700" data-testid="light-side">
          {light.side_text}
        </Box>
      }
    >
      <Facts
        rows={[
          ["sun's altitude", light.altitude],
          ["skyline under it", light.skyline],
          ["sun's azimuth", light.azimuth],
          ["from the lens axis", light.relative],
          ["light", light.illuminance],
          ["below the day's brightest", light.below_noon],
          ["shadows", light.shadow],
          ["moon's altitude", light.moon_altitude],
          ["moon's azimuth", light.moon_azimuth],
        ]}
      />
      {light.horizon_note ? (
        <Box role="note" color="rust" fontSize="13px" mt="1">
          {light.horizon_note}
        </Box>
      ) : null}
    </Part>
  );
}

/** The light on each thing itself, by how it stands to sun, moon and sky. */
function Things({ light }: { light: LightReport }) {
  return (
    <Part word="light on each thing" title="Light on each thing">
      <Table>
        <thead>
          <tr>
            <th>on</th>
            <th className="left">it stands</th>
            <th>light</th>
            <th>against level ground</th>
          </tr>
        </thead>
        <tbody>
          {light.things.map((one) => (
            <tr key={one.id ?? "ground"}>
              <td className="wrap">{one.name}</td>
              <td className="left">{one.text}</td>
              <td>
                <Fig figure={one.lux} />
              </td>
              <td>
                <Fig figure={one.against} />
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      <Box fontSize="12px" color="muted">
        {light.doubt_text}
      </Box>
    </Part>
  );
}

function Day({ light, place, onEvent }: { light: LightReport; place: PlaceOut | undefined; onEvent: (utc: string) => void }) {
  const { store, state } = useBench();
  const { ribbon } = light;
  const toDate = (iso: string) => {
    const days = Math.round((Date.parse(iso) - Date.parse(ribbon.date_iso)) / DAY_MS);
    if (Number.isFinite(days))
      store.compose("date", (c) => ({ moment_utc: new Date(Date.parse(c.moment_utc) + days * DAY_MS).toISOString() }));
  };
  return (
    <Part
      title="Day"
      side={
        <Flex gap="1" align="center">
          <Button
            aria-label="A day earlier"
            onClick={() => toDate(new Date(Date.parse(ribbon.date_iso) - DAY_MS).toISOString().slice(0, 10))}
          >
            ‹
          </Button>
          <Input
            aria-label="Date"
            type="date"
            h="30px"
            w="150px"
            bg="raised"
            borderColor="line"
            borderRadius="2px"
            min="1900-01-02"
            max="2050-12-30"
            value={ribbon.date_iso}
            onChange={(e) => e.target.value && toDate(e.target.value)}
          />
          <Button
            aria-label="A day later"
            onClick={() => toDate(new Date(Date.parse(ribbon.date_iso) + DAY_MS).toISOString().slice(0, 10))}
          >
            ›
          </Button>
        </Flex>
      }
    >
      {ribbon.sun_text ? <Box mb="2">{ribbon.sun_text[0]?.toUpperCase() + ribbon.sun_text.slice(1)}.</Box> : null}
      <EventsPart events={ribbon.events} place={place} onEvent={onEvent} />
      <Box mt="2">
        <ChoiceField
          width="280px"
          label="golden and blue hour counted by"
          value={state.draft.composition.golden_hour}
          options={GOLDEN}
          onCommit={(golden_hour) => store.compose("golden", () => ({ golden_hour }))}
        />
      </Box>
    </Part>
  );
}
