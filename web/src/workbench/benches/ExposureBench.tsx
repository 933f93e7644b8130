import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useState } from "react";

import type { Composition, Evaluation, LedgerReport, Wants } from "../../api/types";
import { LedgerMark } from "../../instruments/ledgerMarks";
import { StopScale } from "../../instruments/StopScale";
import { ChoiceField, NumberField, Segments, TextField, TickField } from "../../shell/fields";
import { Fig, useBench } from "../context";
import { typedValue } from "../typed";
import { Loading, Trouble } from "../../shell/states";
import { FiltersPart } from "./exposure/FiltersPart";
import { MotionPart } from "./exposure/MotionPart";
import { NightPart } from "./exposure/NightPart";
import { PolariserPart } from "./exposure/PolariserPart";
import { RangePart } from "./exposure/RangePart";
import { useExposure } from "./exposure/useExposure";
import { HandOffsets } from "./HandSet";
import { Facts, Part } from "./parts";
import { useSide } from "./useSide";
import { Word } from "../../words/Word";

const LOOKS = [
  ["any", "any"],
  ["freeze", "frozen, to 1/1000 s"],
  ["texture", "texture, 1/4 to 2 s"],
  ["soft", "soft with force, 5 to 7 s"],
  ["glass", "glass or mist, from 30 s"],
] as const;
const SIDES = [
  ["account", "Account"],
  ["filters", "Filters"],
  ["range", "Grad or bracket"],
  ["motion", "Motion"],
  ["polariser", "Polariser"],
  ["night", "Night"],
] as const;
type Side = (typeof SIDES)[number][0];
const BRACKETS = [
  ["none", "no bracket"],
  ["range", "what the range asks"],
  ["manual", "set by me"],
] as const;

const METERS = [
  ["camera", "the camera"],
  ["spot", "a hand-held spot meter"],
  ["incident", "an incident meter"],
] as const;
type Meter = (typeof METERS)[number][0];
/** Of what a meter says only these three make sense: light that falls on a thing never comes through the lens. */
const METER_IS = {
  camera: { through_lens: true, incident: false },
  spot: { through_lens: false, incident: false },
  incident: { through_lens: false, incident: true },
} as const;
const READ_IN = [
  ["as_found", "not noted"],
  ["sun", "sun"],
  ["shade", "shade"],
] as const;

function meterOf(reading: { through_lens: boolean; incident: boolean }): Meter {
  return reading.incident ? "incident" : reading.through_lens ? "camera" : "spot";
}

/** How old the reading is, in light. */
function Freshness({ fresh }: { fresh: NonNullable<LedgerReport["freshness"]> }) {
  return (
    <Box fontSize="12.5px" color={fresh.stale ? "rust" : "muted"} fontWeight={fresh.stale ? "700" : "400"} data-testid="freshness">
      {fresh.stale ? "stale: " : ""}
      {fresh.read_text}, <Fig figure={fresh.change} />, {fresh.until_text}
    </Box>
  );
}

function Ledger({ ledger }: { ledger: LedgerReport }) {
  const number = { px: "8px", py: "7px", textAlign: "right", fontSize: "15px", whiteSpace: "nowrap" } as const;
  return (
    <chakra.table w="100%" css={{ borderCollapse: "collapse" }} data-testid="ledger">
      <thead>
        <tr>
          <chakra.th textAlign="left" fontSize="12px" fontWeight="500" color="muted" pl="26px">
            <Word of="stop ledger">Stop ledger</Word>
          </chakra.th>
          <chakra.th {...number} fontSize="12px" fontWeight="500" color="muted">
            stops
          </chakra.th>
          <chakra.th {...number} fontSize="12px" fontWeight="500" color="muted">
            shutter
          </chakra.th>
        </tr>
      </thead>
      <tbody>
        {ledger.rows.map((row, i) => (
          <chakra.tr key={i} borderTopWidth="1px" borderStyle="dotted" borderColor="muted" data-kind={row.kind}>
            <chakra.td py="7px">
              <Flex align="center" gap="3">
                <LedgerMark kind={row.kind} />
                <Box>
                  {row.label}
                  {row.kind === "reading" && ledger.freshness ? <Freshness fresh={ledger.freshness} /> : null}
                </Box>
              </Flex>
            </chakra.td>
            <chakra.td {...number} borderRightWidth="1px" borderStyle="solid" borderColor="line">
              {row.stops.text ? <Fig figure={row.stops} /> : null}
            </chakra.td>
            <chakra.td {...number}>
              {row.scope_name ? (
                <Box as="span" color="muted" fontSize="13px">
                  its own
                </Box>
              ) : (
                <Fig figure={row.shutter} />
              )}
            </chakra.td>
          </chakra.tr>
        ))}
      </tbody>
      <tfoot>
        <chakra.tr borderTopWidth="4px" borderTopStyle="double" borderColor="ink">
          <chakra.td fontWeight="700" pl="26px" py="8px">
            {ledger.bulb ? "Hold the shutter open for" : "Open the shutter for"}
          </chakra.td>
          <chakra.td {...number} borderRightWidth="1px" borderStyle="solid" borderColor="line">
            <Fig figure={ledger.total} strong />
          </chakra.td>
          <chakra.td {...number} fontSize="19px" data-testid="ledger-shutter">
            <Fig figure={ledger.shutter} strong />
          </chakra.td>
        </chakra.tr>
        {ledger.changing ? (
          <chakra.tr data-testid="ledger-changing">
            <chakra.td pl="26px" pb="8px" fontSize="13.5px" colSpan={2}>
              The light changes while it is open; under a clear sky the same exposure takes
            </chakra.td>
            <chakra.td {...number}>
              <Fig figure={ledger.changing} strong />
            </chakra.td>
          </chakra.tr>
        ) : null}
      </tfoot>
    </chakra.table>
  );
}

function ReadingEditor({ read }: { read: LedgerReport["read"] }) {
  const { store, state } = useBench();
  const { reading, elements, moment_utc, settings } = state.draft.composition;
  const [wrong, setWrong] = useState<string>();
  const meter = (part: Partial<Pick<NonNullable<Composition["reading"]>, "aperture_n" | "shutter_s" | "iso">>) =>
    store.act("reading", { kind: "meter", ...part });
  const put = (part: Partial<NonNullable<Composition["reading"]>> | null) =>
    store.compose("reading", (c) => ({
      reading: part === null || c.reading === null || c.reading === undefined ? null : { ...c.reading, ...part },
    }));
  if (!reading)
    return (
      <Flex gap="4" align="center">
        <Box flex="1" color="muted">
          Nothing metered: the shutter is predicted from the light of sun, Moon and sky, and can be off by a stop or more.
        </Box>
        <Button variant="outline" onClick={() => meter({})}>
          Enter a reading
        </Button>
      </Flex>
    );
  const typed = (name: "aperture_n" | "shutter_s", text: string) => {
    const value = typedValue(text);
    setWrong(value ? undefined : name);
    if (value) meter({ [name]: value });
  };
  return (
    <Flex gap="3" align="end" wrap="wrap">
      <TextField
        width="90px"
        label="aperture"
        value={read?.aperture ?? ""}
        error={wrong === "aperture_n" ? "like f/11" : undefined}
        onCommit={(text) => typed("aperture_n", text)}
      />
      <TextField
        width="100px"
        label="shutter"
        value={read?.shutter ?? ""}
        error={wrong === "shutter_s" ? "like 1/20" : undefined}
        onCommit={(text) => typed("shutter_s", text)}
      />
      <NumberField
        width="90px"
        label="ISO"
        value={Number(read?.iso ?? reading.iso)}
        onCommit={(v) => v && meter({ iso: v })}
        step={100}
      />
      <ChoiceField
        width="150px"
        label="on"
        value={reading.element_id ?? ""}
        options={[["", "the whole"], ...elements.map((e) => [e.id, e.name] as const)]}
        onCommit={(id) => put({ element_id: id || null })}
      />
      <Button onClick={() => put({ taken_at_utc: moment_utc })} title="Counts as taken at the moment on the ribbon">
        Metered now
      </Button>
      <ChoiceField
        width="190px"
        label="metered with"
        value={meterOf(reading)}
        options={METERS}
        onCommit={(meter) => put(METER_IS[meter])}
      />
      <ChoiceField
        width="150px"
        label="in sun or shade"
        value={reading.light}
        options={READ_IN}
        onCommit={(light) => put({ light })}
      />
      {reading.through_lens ? (
        <TickField
          label="through the filters that are on now"
          value={reading.filters_on.length > 0}
          onCommit={(on) => put({ filters_on: on ? settings.filters : [] })}
        />
      ) : null}
      <Button onClick={() => put(null)}>Remove</Button>
    </Flex>
  );
}

/** The ledger, what it starts from, what is wanted, and the range. */
function Account({ made }: { made: Evaluation }) {
  const { store, state } = useBench();
  const { wants, technique, settings, elements } = state.draft.composition;
  const want = (part: Partial<Wants>) => store.compose("wants", (c) => ({ wants: { ...c.wants, ...part } }));
  return (
    <>
      <Part>
        <Ledger ledger={made.ledger} />
      </Part>
      <Part title="Meter reading">
        <ReadingEditor read={made.ledger.read} />
      </Part>
      <Part word="want" title="What you want">
        <Flex gap="4" wrap="wrap" align="end">
          <ChoiceField
            width="190px"
            label="water"
            value={wants.water_look}
            options={LOOKS}
            onCommit={(water_look) => want({ water_look })}
          />
          <NumberField
            width="110px"
            label="ISO at most"
            value={Math.round(wants.highest_iso)}
            step={100}
            onCommit={(v) => v && want({ highest_iso: v })}
          />
          <NumberField
            width="130px"
            label="hand steadiness"
            unit="×"
            step={0.25}
            value={wants.hand_held_factor}
            onCommit={(v) => v && want({ hand_held_factor: v })}
          />
          <NumberField
            width="150px"
            label="back off, saturated colours"
            unit="stops"
            step={1 / 6}
            value={Math.round(wants.warm_back_off_stops * 100) / 100}
            onCommit={(v) => v !== null && want({ warm_back_off_stops: v })}
          />
          <NumberField
            width="130px"
            label="exposure compensation"
            unit="stops"
            step={1 / 3}
            value={Math.round(settings.compensation_stops * 100) / 100}
            onCommit={(v) => v !== null && store.act("offset", { kind: "compensation", stops: Math.round(v * 3) / 3 })}
          />
          <Box display="grid">
            <TickField label="foliage sharp" value={wants.sharp_foliage} onCommit={(sharp_foliage) => want({ sharp_foliage })} />
            <TickField
              label="both ends of the range held"
              value={wants.hold_range}
              onCommit={(hold_range) => want({ hold_range })}
            />
          </Box>
          <Box display="grid">
            <TickField label="shutter on bulb" value={settings.bulb} onCommit={(on) => store.act("bulb", { kind: "bulb", on })} />
            <TickField
              label="camera in hand"
              value={state.draft.composition.hand_held}
              onCommit={(on) => store.act("hand", { kind: "hand_held", on })}
            />
          </Box>
        </Flex>
      </Part>
      <Part
        title="Range"
        side={
          <Segments
            label="Bracket"
            value={technique.bracket}
            options={BRACKETS}
            onCommit={(mode) =>
              store.act("bracket", {
                kind: "bracket",
                mode,
                offsets_stops: mode === "manual" && technique.manual_offsets_stops.length === 0 ? [-2, 0, 2] : [],
              })
            }
          />
        }
      >
        {technique.bracket === "manual" ? <HandOffsets offsets={technique.manual_offsets_stops} /> : null}
        {made.range.marks.length > 0 ? (
          <>
            <Facts
              rows={[
                ["the scene spans", made.range.scene],
                ["a frame holds", made.range.usable],
                ["with these frames", made.range.held ? "held" : "not held"],
              ]}
            />
            <StopScale range={made.range} />
          </>
        ) : (
          <Box color="muted">
            {elements.length === 0
              ? "Add elements on the Frame bench."
              : "Give elements a spot reading on the Frame bench to see the range."}
          </Box>
        )}
        {made.range.problem ? <Box color="rust">{made.range.problem}</Box> : null}
      </Part>
    </>
  );
}

function Studies({ side, made }: { side: Exclude<Side, "account">; made: Evaluation }) {
  const [wanted, setWanted] = useState<number | null>(null);
  const [wind, setWind] = useState<number | null>(null);
  const study = useExposure(wanted, wind);
  if (study.isError && !study.data) return <Trouble error={study.error} again={() => void study.refetch()} />;
  if (!study.data) return <Loading what="the study of exposure" />;
  if (side === "filters") return <FiltersPart study={study.data.filters} wanted={wanted} onWanted={setWanted} />;
  if (side === "range") return <RangePart study={study.data} range={made.range} />;
  if (side === "polariser") return <PolariserPart study={study.data.polariser} />;
  if (side === "night") return <NightPart study={study.data.night} />;
  return <MotionPart study={study.data} made={made} wind={wind} onWind={setWind} />;
}

/** The account of every stop, filters, range and what moves. */
export function ExposureBench({ made }: { made: Evaluation }) {
  const [side, choose] = useSide<Side>("exposure", SIDES, "account");
  return (
    <>
      <Box mb="8px">
        <Segments label="Exposure" value={side} options={SIDES} onCommit={choose} />
      </Box>
      {side === "account" ? <Account made={made} /> : <Studies side={side} made={made} />}
    </>
  );
}
