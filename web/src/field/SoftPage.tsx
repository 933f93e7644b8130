import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useState } from "react";
import { useNavigate } from "react-router";

import type { SequenceOut, SpotTable } from "../api/types";
import { ChoiceField, Segments } from "../shell/fields";
import { notify } from "../shell/notices";
import { OnSpot } from "./OnSpot";
import { Stepper } from "./Stepper";
import { keepProgress, recall } from "./useCarryOut";

/** Soft on the screen: why? The likely causes beside each other, and the single change to try first. */
export default function SoftPage() {
  return <OnSpot>{(table, sequence) => <Causes table={table} sequence={sequence} />}</OnSpot>;
}

interface Cause {
  name: string;
  pixels: number;
  remedy: string;
}

function Causes({ table, sequence }: { table: SpotTable; sequence: SequenceOut }) {
  const { soft } = table;
  const go = useNavigate();
  const [shutter, setShutter] = useState(soft.own_shutter);
  const [aperture, setAperture] = useState(table.own_aperture);
  const [wind, setWind] = useState(1);
  const [hand, setHand] = useState(soft.by_hand);
  const [at, setAt] = useState(0);
  const [tried, setTried] = useState<string[]>(() => recall(sequence.id).tried);
  const element = soft.elements[at];
  const causes: Cause[] = [
    { name: "Shake by hand", pixels: hand ? (soft.hand[shutter] ?? 0) : 0, remedy: soft.for_hand },
    { name: "What you stand on moves", pixels: soft.support[shutter] ?? 0, remedy: soft.for_support },
    { name: "Wind on the stand", pixels: hand ? 0 : (soft.wind[wind]?.[shutter] ?? 0), remedy: soft.for_wind },
    { name: "It moves itself", pixels: element?.motion[wind]?.[shutter] ?? 0, remedy: element?.for_motion[wind] ?? "" },
    { name: "Outside the depth", pixels: element?.depth[aperture] ?? 0, remedy: element?.for_depth ?? "" },
    { name: "Focus slightly off", pixels: element?.focus[aperture] ?? 0, remedy: element?.for_focus ?? "" },
    { name: "Diffraction", pixels: soft.diffraction[aperture] ?? 0, remedy: soft.for_diffraction },
  ].sort((a, b) => b.pixels - a.pixels);
  const likely = causes.filter(
    (one) => one.pixels > soft.seen_px && one.remedy !== "" && !tried.some((t) => t.includes(one.remedy)),
  );
  const most = Math.max(...causes.map((one) => one.pixels), 4 * soft.seen_px);
  const settings = `${soft.shutters[shutter]} at ${table.apertures[aperture]?.text}`;
  const note = (helped: boolean, one: Cause) => {
    const words = `Soft, ${settings}: ${one.remedy} ${helped ? "It helped." : "It did not help."}`;
    const next = [...tried, words];
    setTried(next);
    void keepProgress(sequence.id, { ...recall(sequence.id), tried: next });
    notify({ title: helped ? "Good. It goes into the take" : "Then the next one", detail: one.name });
    if (helped) void go(`/field/${sequence.id}`);
  };
  const first = likely[0];
  return (
    <>
      <chakra.h1 fontSize="24px" fontWeight="700" lineHeight="1.2">
        Soft on the screen: why?
      </chakra.h1>
      {soft.elements.length > 0 ? (
        <Box py="6px" css={{ "& select": { height: "52px", fontSize: "18px" } }}>
          <ChoiceField
            label="What looks soft"
            value={String(at)}
            options={soft.elements.map((one, k) => [String(k), one.name] as const)}
            onCommit={(v) => setAt(Number(v))}
          />
        </Box>
      ) : null}
      <Stepper
        label="Shutter in use"
        value={soft.shutters[shutter] ?? ""}
        less="Shorter"
        more="Longer"
        onLess={shutter > 0 ? () => setShutter(shutter - 1) : undefined}
        onMore={shutter < soft.shutters.length - 1 ? () => setShutter(shutter + 1) : undefined}
      />
      <Stepper
        label="Aperture in use"
        value={table.apertures[aperture]?.text ?? ""}
        less="Wider"
        more="Narrower"
        onLess={aperture > 0 ? () => setAperture(aperture - 1) : undefined}
        onMore={aperture < table.apertures.length - 1 ? () => setAperture(aperture + 1) : undefined}
      />
      <Flex direction="column" gap="8px" py="6px" css={{ "& [data-part=item]": { minHeight: "48px" } }}>
        <Box css={{ "& select": { height: "52px", fontSize: "18px" } }}>
          <ChoiceField
            label="Wind"
            value={String(wind)}
            options={soft.winds.map((one, k) => [String(k), one] as const)}
            onCommit={(v) => setWind(Number(v))}
          />
        </Box>
        <Segments
          tall
          label="How it is held"
          value={hand ? "hand" : "stand"}
          options={[
            ["stand", "on the stand"],
            ["hand", "by hand"],
          ]}
          onCommit={(v) => setHand(v === "hand")}
        />
      </Flex>
      <Box my="2" data-testid="soft-causes">
        {causes.map((one) => (
          <Box key={one.name} py="3px">
            <Flex justify="space-between" fontSize="15px" fontWeight={one.pixels > soft.seen_px ? "700" : "400"}>
              <Box as="span">{one.name}</Box>
              <Box as="span" fontFamily="mono">
                {one.pixels < 0.1 ? "none" : `${one.pixels} px`}
              </Box>
            </Flex>
            <Box h="8px" borderWidth="1px" borderColor="line" position="relative">
              <Box h="100%" bg={one.pixels > soft.seen_px ? "rust" : "muted"} w={`${Math.min(100, (one.pixels / most) * 100)}%`} />
            </Box>
          </Box>
        ))}
        <Box fontSize="12.5px" color="muted">
          Pixels of the sensor, likely sizes. Under {soft.seen_px} px nothing shows.
        </Box>
      </Box>
      {first ? (
        <Box borderLeftWidth="4px" borderColor="rust" bg="panel" px="3" py="2" role="status" data-testid="soft-first">
          <Box fontSize="13px" color="muted">
            {tried.length > 0 ? "Try next" : "Try first"}
          </Box>
          <Box fontSize="17px" fontWeight="600">
            {first.remedy}
          </Box>
          <Flex gap="10px" mt="2">
            <Button h="52px" flex="1" onClick={() => note(true, first)}>
              It helped
            </Button>
            <Button h="52px" flex="1" onClick={() => note(false, first)}>
              It did not
            </Button>
          </Flex>
        </Box>
      ) : (
        <Box borderLeftWidth="4px" borderColor="slate" bg="panel" px="3" py="2" role="status" data-testid="soft-first">
          {soft.otherwise}
        </Box>
      )}
      {likely[1] ? (
        <Box mt="2" fontSize="14px" color="muted">
          If that does not help: {likely[1].remedy}
        </Box>
      ) : null}
      {tried.length > 0 ? (
        <Button
          mt="3"
          h="48px"
          onClick={() => (setTried([]), void keepProgress(sequence.id, { ...recall(sequence.id), tried: [] }))}
        >
          Begin anew: nothing was tried
        </Button>
      ) : null}
    </>
  );
}
