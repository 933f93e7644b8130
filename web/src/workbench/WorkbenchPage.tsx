import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useState, useSyncExternalStore } from "react";
import { Link, useParams } from "react-router";

import { wordsOf } from "../api/client";
import { compositionQuery, forecastQuery, kitQuery, placesQuery } from "../api/queries";
import type { Change, CompositionOut } from "../api/types";
import { DayRibbon } from "../instruments/DayRibbon";
import { PlanFromAbove } from "../instruments/PlanFromAbove";
import { SideSection } from "../instruments/SideSection";
import { View } from "../instruments/View";
import { notify } from "../shell/notices";
import { ShortcutsSheet } from "../shell/ShortcutsSheet";
import { Loading, Trouble } from "../shell/states";
import { TopBar } from "../shell/TopBar";
import { useUnits } from "../shell/units";
import { DepthBench } from "./benches/DepthBench";
import { ExposureBench } from "./benches/ExposureBench";
import { FrameBench } from "./benches/FrameBench";
import { LightBench } from "./benches/LightBench";
import { SequenceBench } from "./benches/SequenceBench";
import { WaysBench } from "./benches/WaysBench";
import { ConflictSheet } from "./ConflictSheet";
import { BenchProvider, Later, useBench } from "./context";
import { WORKBENCH_KEYS } from "./keys";
import { SaveStatus } from "./SaveStatus";
import { NUDGE_KEYS, SettingsRail } from "./SettingsRail";
import type { Surroundings } from "./scene";
import { type Snapshot, WorkbenchStore } from "./store";
import { Tensions } from "./Tensions";
import { useKeys } from "./useKeys";
import { usePlanHands } from "./usePlanHands";

const BENCHES = [
  ["frame", "Frame"],
  ["light", "Light"],
  ["depth", "Depth"],
  ["exposure", "Exposure"],
  ["ways", "Ways"],
  ["sequence", "Sequence"],
] as const;
type BenchName = (typeof BENCHES)[number][0];

/** Keys that move the camera: what, and by how much with and without Shift. */
const MOVES: Record<string, (size: 1 | 10) => Change> = {
  j: (size) => ({ kind: "step", right_m: -0.1 * size, ahead_m: 0 }),
  l: (size) => ({ kind: "step", right_m: 0.1 * size, ahead_m: 0 }),
  i: (size) => ({ kind: "step", right_m: 0, ahead_m: 0.1 * size }),
  k: (size) => ({ kind: "step", right_m: 0, ahead_m: -0.1 * size }),
  u: (size) => ({ kind: "turn_aim", right_deg: -size, up_deg: 0 }),
  o: (size) => ({ kind: "turn_aim", right_deg: size, up_deg: 0 }),
  y: (size) => ({ kind: "turn_aim", right_deg: 0, up_deg: size }),
  h: (size) => ({ kind: "turn_aim", right_deg: 0, up_deg: -size }),
};
const HEIGHT_STEP_M = 0.05;
const GUIDE_ORDER = ["thirds", "golden", "centre", "diagonals", "none"] as const;
const LARGE = ["view", "plan", "section"] as const;
type Large = (typeof LARGE)[number];

const BENCH_KEY = "lucid-ridge/bench";

export default function WorkbenchPage() {
  const { id = "" } = useParams();
  const composition = useQuery(compositionQuery(id));
  const kit = useQuery(kitQuery);
  const places = useQuery(placesQuery);
  const units = useUnits();
  const failed = [composition, kit, places].find((query) => query.isError && !query.data);
  const [day, setDay] = useState<{ place: string; start: string } | null>(null);
  const weather = useQuery({ ...forecastQuery(day?.place ?? "", day?.start ?? ""), enabled: day !== null });
  const forecast = weather.data?.forecast ?? null;
  const around = useMemo(
    () => (kit.data && places.data ? { kit: kit.data, places: places.data, units, forecast } : null),
    [kit.data, places.data, units, forecast],
  );
  const trouble = weather.data?.trouble ?? "";
  if (failed)
    return (
      <>
        <TopBar />
        <Trouble error={failed.error} again={() => void failed.refetch()} />
      </>
    );
  if (!composition.data || !around) return <Loading what="the composition" />;
  return <Workbench key={id} saved={composition.data} around={around} onDay={setDay} weatherTrouble={trouble} />;
}

/** Which of a row of tabs an arrow key, Home or End leads to from one; -1 for other keys. */
function neighbour(key: string, at: number, count: number) {
  if (key === "ArrowRight") return (at + 1) % count;
  if (key === "ArrowLeft") return (at + count - 1) % count;
  return key === "Home" ? 0 : key === "End" ? count - 1 : -1;
}

/** Steps of the moment in minutes; the server keeps it within a day it knows. */
function moved(utc: string, minutes: number) {
  return new Date(Date.parse(utc) + minutes * 60_000).toISOString();
}

const tensionsOf = () => <Tensions />;

let lockedToldAt = -Infinity;

/** Say that a locked setting stays; once for a held key. */
function tellLocked(setting: string) {
  if (performance.now() - lockedToldAt < 4000) return;
  lockedToldAt = performance.now();
  const name = setting.replaceAll("_", " ");
  notify({ title: `${name[0]?.toUpperCase() ?? ""}${name.slice(1)} is locked`, detail: "Free it at the chip's corner, or with Shift and its key." });
}

interface WorkbenchProps {
  saved: CompositionOut;
  around: Surroundings;
  /** Told which day at which place is looked at, so that its forecast can be asked for. */
  onDay: (day: { place: string; start: string }) => void;
  weatherTrouble: string;
}

function Workbench({ saved, around, onDay, weatherTrouble }: WorkbenchProps) {
  const [store] = useState(() => new WorkbenchStore(saved, around, tellLocked));
  const state = useSyncExternalStore(store.subscribe, store.snapshot);
  const client = useQueryClient();
  const [bench, setBench] = useState<BenchName>(() => BENCHES.find(([name]) => name === window.sessionStorage.getItem(BENCH_KEY))?.[0] ?? "depth");
  const [selected, select] = useState<string>();
  const [filtersOpen, setFiltersOpen] = useState(false);
  const [keysOpen, setKeysOpen] = useState(false);
  const [large, setLarge] = useState<Large>("view");
  const hands = usePlanHands(store, select);
  const setHeight = useCallback((camera_height_m: number) => store.act("height", { kind: "height", camera_height_m }), [store]);

  useEffect(() => {
    store.open();
    return () => {
      store.close();
      void client.invalidateQueries({ queryKey: ["compositions"] });
    };
  }, [store, client]);
  useEffect(() => store.surround(around), [store, around]);
  const dayStart = state.evaluation?.light.ribbon.start_utc;
  const placeId = state.draft.place_id;
  useEffect(() => {
    if (dayStart) onDay({ place: placeId, start: dayStart });
  }, [dayStart, placeId, onDay]);
  useEffect(() => window.sessionStorage.setItem(BENCH_KEY, bench), [bench]);
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => {
      if (store.unsaved) event.preventDefault();
    };
    window.addEventListener("beforeunload", warn);
    return () => window.removeEventListener("beforeunload", warn);
  }, [store]);

  const step = useCallback((minutes: number) => store.compose("moment", (c) => ({ moment_utc: moved(c.moment_utc, minutes) })), [store]);
  const toMoment = useCallback((utc: string) => store.compose("moment", () => ({ moment_utc: utc })), [store]);
  const toEvent = useCallback(
    (direction: 1 | -1) => {
      const { evaluation, draft } = store.snapshot();
      const now = Date.parse(draft.composition.moment_utc);
      const events = evaluation?.light.ribbon.events ?? [];
      const next = direction > 0 ? events.find((e) => Date.parse(e.at_utc) > now + 1000) : events.findLast((e) => Date.parse(e.at_utc) < now - 1000);
      if (next) toMoment(next.at_utc);
    },
    [store, toMoment],
  );

  useKeys(
    useCallback(
      (key) => {
        for (const [setting, [less, more]] of Object.entries(NUDGE_KEYS) as [keyof typeof NUDGE_KEYS, readonly [string, string]][]) {
          if (key === less || key === more) {
            store.act(`nudge ${setting}`, { kind: "nudge", setting, steps: key === more ? 1 : -1 });
            return true;
          }
          if (key === `shift+${less}` || key === `shift+${more}`) {
            const locked = store.snapshot().draft.composition.locks.includes(setting);
            store.act("lock", { kind: "lock", setting, on: !locked });
            return true;
          }
        }
        const index = ["1", "2", "3", "4", "5", "6"].indexOf(key);
        const chosen = BENCHES[index];
        if (chosen) {
          setBench(chosen[0]);
          return true;
        }
        const move = MOVES[key.replace("shift+", "")];
        if (move) {
          store.act(`move ${key}`, move(key.startsWith("shift+") ? 10 : 1));
          return true;
        }
        switch (key) {
          case "t":
          case "b": {
            const now = store.snapshot().draft.composition.camera_height_m;
            setHeight(Math.max(0, Number((now + (key === "t" ? HEIGHT_STEP_M : -HEIGHT_STEP_M)).toFixed(3))));
            return true;
          }
          case "n": {
            const now = store.snapshot().draft.composition.guide;
            store.compose("guide", () => ({ guide: GUIDE_ORDER[(GUIDE_ORDER.indexOf(now) + 1) % GUIDE_ORDER.length] ?? "thirds" }));
            return true;
          }
          case "p":
            setLarge((now) => LARGE[(LARGE.indexOf(now) + 1) % LARGE.length] ?? "view");
            return true;
          case "f":
            setFiltersOpen(true);
            return true;
          case ",":
            step(-5);
            return true;
          case ".":
            step(5);
            return true;
          case "<":
            step(-60);
            return true;
          case ">":
            step(60);
            return true;
          case "[":
            toEvent(-1);
            return true;
          case "]":
            toEvent(1);
            return true;
          case "m": {
            const mend = store.snapshot().evaluation?.tensions.find((t) => t.mend)?.mend;
            if (mend) store.act("mend", ...mend.changes);
            return true;
          }
          case "mod+z":
            store.undo();
            return true;
          case "mod+y":
          case "mod+shift+z":
            store.redo();
            return true;
          case "mod+s":
            void store.save();
            return true;
          case "?":
            setKeysOpen(true);
            return true;
          default:
            return false;
        }
      },
      [store, step, toEvent, setHeight],
    ),
  );

  const benchOf = useCallback(
    ({ evaluation }: Snapshot) => (
      <>
        {bench === "frame" ? <FrameBench around={around} /> : null}
        {evaluation && bench === "light" ? <LightBench light={evaluation.light} around={around} onEvent={toMoment} weatherTrouble={weatherTrouble} /> : null}
        {evaluation && bench === "depth" ? <DepthBench depth={evaluation.depth} /> : null}
        {evaluation && bench === "exposure" ? <ExposureBench made={evaluation} /> : null}
        {evaluation && bench === "ways" ? <WaysBench /> : null}
        {evaluation && bench === "sequence" ? <SequenceBench sequence={evaluation.sequence} /> : null}
      </>
    ),
    [bench, around, toMoment, weatherTrouble],
  );
  const made = state.evaluation;
  const picture = (which: Large, isLarge: boolean) => {
    if (!made) return null;
    if (which === "view") return <View framing={made.framing} selected={selected} onSelect={select} small={!isLarge} />;
    if (which === "plan") return <PlanFromAbove plan={made.plan} hands={hands} selected={selected} large={isLarge} />;
    return <SideSection section={made.section} onHeight={setHeight} large={isLarge} />;
  };
  const place = around.places.find((one) => one.id === state.draft.place_id);
  return (
    <BenchProvider store={store} state={state} selected={selected} select={select}>
      <Flex direction="column" h="100vh" minW="1024px" overflow="hidden">
        <TopBar
          actions={
            <>
              <SaveStatus />
              <Button onClick={() => store.undo()} disabled={!state.canUndo}>
                Undo
              </Button>
              <Button onClick={() => store.redo()} disabled={!state.canRedo}>
                Redo
              </Button>
              <Button onClick={() => setKeysOpen(true)} aria-label="Keys">
                ?
              </Button>
            </>
          }
        >
          <Box as="nav" aria-label="Where you are" color="muted" ml="3" overflow="hidden" whiteSpace="nowrap" textOverflow="ellipsis">
            <Link to="/">{place?.place.name ?? "Places"}</Link> / <chakra.h1 display="inline" fontWeight="700" color="ink">{state.draft.name}</chakra.h1>
          </Box>
        </TopBar>
        {made ? <SettingsRail filtersOpen={filtersOpen} setFiltersOpen={setFiltersOpen} /> : null}
        {state.missing ? (
          <Box role="alert" bg="rustFaint" px="4" py="2">
            The {state.missing} this composition uses was deleted. Choose another on the Frame bench, or bring it back on the kit page.
          </Box>
        ) : null}
        {state.problem ? <Problems /> : null}
        <Flex as="main" flex="1" minH="0">
          <Flex direction="column" w="49.4%" p="10px 16px" gap="10px" minH="0">
            {made ? (
              <>
                <Box flex="1" minH="0" {...(large === "view" ? {} : { borderWidth: "1px", borderColor: "line", overflow: "hidden" })}>
                  {picture(large, true)}
                </Box>
                <Flex h="136px" flexShrink="0" gap="8px">
                  {LARGE.filter((one) => one !== large).map((one) => (
                    <Box key={one} flex="1" minW="0" position="relative" borderWidth={one === "view" ? "0" : "1px"} borderColor="line" overflow="hidden">
                      {picture(one, false)}
                      <Button position="absolute" right="3px" bottom="3px" h="24px" w="24px" px="0" opacity="0.9" onClick={() => setLarge(one)} aria-label={`Enlarge the ${one}`} title={`Enlarge the ${one} (P)`}>
                        <svg width="12" height="12" viewBox="0 0 12 12" aria-hidden="true" fill="none" stroke="currentColor" strokeWidth="1.400">
                          <path d="M7 1H11V5M11 1L7 5M5 11H1V7M1 11L5 7" />
                        </svg>
                      </Button>
                    </Box>
                  ))}
                </Flex>
              </>
            ) : (
              <Loading what="the view" />
            )}
          </Flex>
          <Flex direction="column" flex="1" minW="0" borderLeftWidth="1px" borderColor="line" px="16px" pb="8px" minH="0">
            <Flex role="tablist" aria-label="Benches" borderBottomWidth="1px" borderColor="line" flexShrink="0" mb="8px">
              {BENCHES.map(([name, label], i) => (
                <chakra.button
                  key={name}
                  id={`tab-${name}`}
                  type="button"
                  role="tab"
                  aria-selected={bench === name}
                  aria-controls="bench"
                  tabIndex={bench === name ? 0 : -1}
                  onClick={() => setBench(name)}
                  onKeyDown={(event) => {
                    const next = BENCHES[neighbour(event.key, i, BENCHES.length)];
                    if (!next) return;
                    event.preventDefault();
                    event.stopPropagation();
                    setBench(next[0]);
                    document.getElementById(`tab-${next[0]}`)?.focus();
                  }}
                  px="12px"
                  h="38px"
                  cursor="pointer"
                  fontWeight={bench === name ? "700" : "400"}
                  borderBottomWidth="3px"
                  borderColor={bench === name ? "moss" : "transparent"}
                  color={bench === name ? "ink" : "muted"}
                >
                  {label}{" "}
                  <Box as="span" fontFamily="mono" fontSize="11px">
                    {i + 1}
                  </Box>
                </chakra.button>
              ))}
            </Flex>
            <Box id="bench" role="tabpanel" aria-labelledby={`tab-${bench}`} flex="1" minH="0" position="relative" overflowY="auto" tabIndex={0} data-testid="bench">
              <Later>{benchOf}</Later>
            </Box>
            <Later>{tensionsOf}</Later>
          </Flex>
        </Flex>
        <Box flexShrink="0" borderTopWidth="1px" borderColor="line" bg="panel" px="16px">
          {made ? <DayRibbon ribbon={made.light.ribbon} onMoment={toMoment} onStep={step} onEvent={toEvent} /> : <Box h="140px" />}
        </Box>
      </Flex>
      <ConflictSheet />
      <ShortcutsSheet open={keysOpen} onClose={() => setKeysOpen(false)} groups={WORKBENCH_KEYS} />
    </BenchProvider>
  );
}

function Problems() {
  const { store, state } = useBench();
  const problem = state.problem;
  if (!problem) return null;
  const fits = problem.errors.some((one) => one.pointer.startsWith("/composition/settings"));
  return (
    <Flex role="alert" bg="rustFaint" px="4" py="2" gap="4" align="center" flexShrink="0">
      <Box flex="1">
        <b>{problem.title}.</b> {wordsOf(problem)}
      </Box>
      {fits ? <Button onClick={() => store.act("fit", { kind: "fit" })}>Fit the settings to the kit</Button> : null}
      {store.snapshot().canUndo ? <Button onClick={() => store.undo()}>Undo</Button> : null}
    </Flex>
  );
}
