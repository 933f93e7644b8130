import { Box, Button, Flex } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { Word } from "../../words/Word";

import { api, ask, problemOf, wordsOf } from "../../api/client";
import type { Change, Way } from "../../api/types";
import { SequenceStrip } from "../../instruments/SequenceStrip";
import { ChoiceField, NumberField, TextField, TickField } from "../../shell/fields";
import { Loading, Trouble } from "../../shell/states";
import { AfterChanges, Fig, useBench } from "../context";
import { typedValue } from "../typed";
import { useStudy } from "../useStudy";
import { Facts, Part } from "./parts";
import { SmoothBackground } from "./SmoothBackground";

function useWays() {
  return useStudy("ways", [], async (scene) => await ask(api.POST("/api/ways", { body: { scene, changes: [] } })));
}

function Totals({ way }: { way: Way }) {
  return (
    <Facts
      rows={[
        ["frames", way.frames],
        ["takes", way.total],
        ["light changes by", way.drift],
        ["worst blur", way.blur],
        ["highest ISO", way.iso],
        ...(way.travel ? ([["leaves travel", way.travel]] as const) : []),
      ]}
    />
  );
}

function WayCard({ way, onTake }: { way: Way; onTake: () => void }) {
  const { rehearse } = useBench();
  return (
    <Part
      title={way.name}
      side={
        way.in_use ? (
          <Box fontWeight="700">as you have it</Box>
        ) : (
          <Flex gap="2">
            <Button onClick={() => rehearse({ name: way.name, changes: way.changes })} aria-label={`See it beside: ${way.name}`}>
              See it beside
            </Button>
            <Button variant="outline" onClick={onTake} aria-label={`Take this way: ${way.name}`}>
              Take this way
            </Button>
          </Flex>
        )
      }
    >
      <Box data-testid={`way-${way.key}`}>
        <Box fontFamily="mono" fontSize="15px" fontWeight="700">
          {way.settings_text}
        </Box>
        <Box fontSize="13.5px" mb="1">
          {way.technique_text}
        </Box>
        {way.sequence.problem ? (
          <Box color="rust">{way.sequence.problem}</Box>
        ) : (
          <SequenceStrip frames={way.sequence.frames} tall="26px" />
        )}
        <Box mt="2">
          <AfterChanges changes={way.changes}>
            <Totals way={way} />
          </AfterChanges>
        </Box>
        <Box fontSize="13px" mt="1">
          {way.kept_for.length > 0 ? <>Kept because {way.kept_for.join("; ")}. </> : null}
          {way.gives_up.length > 0 ? <>Gives up: {way.gives_up.join("; ")}.</> : null}
        </Box>
        {way.broken.map((text) => (
          <Box key={text} color="rust" fontSize="13px">
            {text}
          </Box>
        ))}
      </Box>
    </Part>
  );
}

const SLICES = [
  ["one", "one frame"],
  ["gapless", "gapless slices"],
] as const;

/** Ask about a way of one's own: which want breaks, and by how much. */
function Proposal() {
  const { store, state } = useBench();
  const { settings } = state.draft.composition;
  const chip = (name: string) => state.evaluation?.setting_summaries.find((one) => one.setting === name)?.text;
  const [aperture, setAperture] = useState<number | null>(null);
  const [wrong, setWrong] = useState(false);
  const [iso, setIso] = useState<number | null>(null);
  const [slices, setSlices] = useState<"one" | "gapless">("one");
  const [bracket, setBracket] = useState(false);
  const proposed = (): Change[] => [
    { kind: "set", setting: "aperture", value: aperture ?? settings.aperture_n },
    { kind: "set", setting: "iso", value: iso ?? settings.iso },
    { kind: "slices", mode: slices, foci_m: [] },
    { kind: "bracket", mode: bracket ? "range" : "none", offsets_stops: [] },
    { kind: "layers", layers: [] },
  ];
  const why = useMutation({
    mutationFn: async () => {
      const scene = store.scene;
      if (!scene) throw new Error("The composition is not complete.");
      return await ask(api.POST("/api/ways/why-not", { body: { scene, changes: [], proposal: proposed() } }));
    },
  });
  return (
    <Part title="Why not …?">
      <Flex gap="3" align="end" wrap="wrap">
        <TextField
          width="100px"
          label="aperture"
          value={aperture ? `f/${aperture}` : (chip("aperture") ?? "")}
          error={wrong ? "like f/11" : undefined}
          onCommit={(text) => {
            const value = typedValue(text);
            setWrong(!value);
            if (value) setAperture(value);
          }}
        />
        <NumberField width="100px" label="at ISO" value={iso ?? Number(chip("iso") ?? settings.iso)} step={100} onCommit={setIso} />
        <ChoiceField width="150px" label="focus in" value={slices} options={SLICES} onCommit={setSlices} />
        <Box pb="5px">
          <TickField label="bracketed" value={bracket} onCommit={setBracket} />
        </Box>
        <Button variant="outline" onClick={() => why.mutate()} loading={why.isPending}>
          Why not so?
        </Button>
      </Flex>
      {why.isError ? (
        <Box role="alert" color="rust" mt="2">
          {wordsOf(problemOf(why.error))}
        </Box>
      ) : null}
      {why.data ? (
        <Box mt="2" data-testid="why-not" aria-live="polite">
          <Box fontFamily="mono">{why.data.settings_text}</Box>
          <Box fontWeight="700">
            {why.data.verdict} {why.data.beaten_by}
          </Box>
          {why.data.broken.map((one) => (
            <Box key={one.title} fontSize="13.5px">
              <b>{one.title}:</b> {one.sentence}
            </Box>
          ))}
          <Box mt="1">
            <AfterChanges changes={why.data.changes}>
              <Totals way={why.data.way} />
            </AfterChanges>
          </Box>
          <Box mt="1">
            <Button onClick={() => store.act("way", ...why.data.changes)}>Take it anyway</Button>
          </Box>
        </Box>
      ) : null}
    </Part>
  );
}

/** Complete techniques that give what is wanted, none beaten by another; and why another would not do. */
export function WaysBench() {
  const { store, state } = useBench();
  const found = useWays();
  const { wants } = state.draft.composition;
  if (found.isError && !found.data) return <Trouble error={found.error} again={() => void found.refetch()} />;
  if (!found.data) return <Loading what="the ways" />;
  const report = found.data;
  return (
    <>
      <Part
        word="want"
        title="What you want"
        side={<Fig figure={{ value: report.judged, text: `${report.judged} judged`, explain: "" }} />}
      >
        <Flex gap="3" wrap="wrap" align="end">
          <NumberField
            width="96px"
            label="ISO at most"
            value={Math.round(wants.highest_iso)}
            step={100}
            onCommit={(v) => v && store.compose("wants", (c) => ({ wants: { ...c.wants, highest_iso: v } }))}
          />
          <NumberField
            width="104px"
            label="frames at most"
            value={wants.most_frames}
            step={1}
            onCommit={(v) => v && v >= 1 && store.compose("wants", (c) => ({ wants: { ...c.wants, most_frames: Math.round(v) } }))}
          />
          <SmoothBackground />
          <Box display="grid">
            <TickField
              label="foliage sharp"
              value={wants.sharp_foliage}
              onCommit={(sharp_foliage) => store.compose("wants", (c) => ({ wants: { ...c.wants, sharp_foliage } }))}
            />
            <TickField
              label="a frozen wave too"
              value={wants.frozen_wave}
              onCommit={(frozen_wave) => store.compose("wants", (c) => ({ wants: { ...c.wants, frozen_wave } }))}
            />
          </Box>
        </Flex>
        <Box role="status" mt="2" fontWeight="700" color={report.found ? "ink" : "rust"} data-testid="ways-sentence">
          {report.sentence}
        </Box>
        {report.relax.map((text) => (
          <Box key={text} fontSize="13.5px">
            {text}
          </Box>
        ))}
      </Part>
      {report.ways.length > 0 ? (
        <Box fontSize="13px" fontWeight="600" color="muted" mb="1">
          <Word of="way">Ways</Word>: {report.ways.length}
        </Box>
      ) : null}
      {report.ways.map((way) => (
        <WayCard key={way.key} way={way} onTake={() => store.act("way", ...way.changes)} />
      ))}
      <Proposal />
    </>
  );
}
