import { Box, Button, chakra } from "@chakra-ui/react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useCallback, useEffect, useMemo, useState, useSyncExternalStore } from "react";
import { Link, useParams } from "react-router";

import { compositionQuery, forecastQuery, kitQuery, placesQuery } from "../api/queries";
import type { CompositionOut } from "../api/types";
import { DayRibbon } from "../instruments/DayRibbon";
import { ShortcutsSheet } from "../shell/ShortcutsSheet";
import { Loading, Trouble } from "../shell/states";
import { TopBar } from "../shell/TopBar";
import { useUnits } from "../shell/units";
import { ConflictSheet } from "./ConflictSheet";
import { BenchProvider, Later, type Other } from "./context";
import { type BenchName, keepBench, keptBench } from "./benchNames";
import { BenchIntro } from "./BenchIntro";
import { BenchTabs } from "./BenchTabs";
import { WORKBENCH_KEYS } from "./keys";
import { tellLocked } from "./lockedNotice";
import { DeskLayout, PocketLayout } from "./layouts";
import { usePanes, usePocket } from "./panes";
import { type Large, Pictures, type Point } from "./Pictures";
import { Problems } from "./Problems";
import { SaveStatus } from "./SaveStatus";
import { SettingsRail } from "./SettingsRail";
import type { Surroundings } from "./scene";
import { type Snapshot, WorkbenchStore } from "./store";
import { Tensions } from "./Tensions";
import { useMoments } from "./useMoments";
import { useWorkbenchKeys } from "./useWorkbenchKeys";
import { usePlanHands } from "./usePlanHands";

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
  // A list kept from before may not know yet what was just made.
  const unknown = !places.data?.some((one) => one.id === composition.data?.place_id) && places.isFetching;
  if (!composition.data || !around || unknown) return <Loading what="the composition" />;
  return <Workbench key={id} saved={composition.data} around={around} onDay={setDay} weatherTrouble={trouble} />;
}

const FrameBench = lazy(() => import("./benches/FrameBench").then((found) => ({ default: found.FrameBench })));
const LightBench = lazy(() => import("./benches/LightBench").then((found) => ({ default: found.LightBench })));
const DepthBench = lazy(() => import("./benches/DepthBench").then((found) => ({ default: found.DepthBench })));
const ExposureBench = lazy(() => import("./benches/ExposureBench").then((found) => ({ default: found.ExposureBench })));
const WaysBench = lazy(() => import("./benches/WaysBench").then((found) => ({ default: found.WaysBench })));
const RehearsalRoom = lazy(() => import("../rehearsal/RehearsalRoom"));
const SequenceBench = lazy(() => import("./benches/SequenceBench").then((found) => ({ default: found.SequenceBench })));

/** A table wider than a phone moves by itself, not the page with it. */
const POCKET_BENCH = { "& table": { display: "block", overflowX: "auto", maxWidth: "100%", fontSize: "12.5px" } };

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
  const [bench, setBench] = useState<BenchName>(() => keptBench());
  const [selected, select] = useState<string>();
  const [filtersOpen, setFiltersOpen] = useState(false);
  const [keysOpen, setKeysOpen] = useState(false);
  const [rehearsing, setRehearsing] = useState<{ beside: Other | undefined }>();
  const rehearse = useCallback((beside?: Other) => setRehearsing({ beside }), []);
  const [large, setLarge] = useState<Large>("view");
  const [pointed, setPointed] = useState<Point | null>(null);
  const [panes, putPanes] = usePanes();
  const pocket = usePocket();
  const hands = usePlanHands(store, select);

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
  useEffect(() => {
    keepBench(bench);
    store.openBench(bench);
  }, [store, bench]);
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => {
      if (store.unsaved) event.preventDefault();
    };
    window.addEventListener("beforeunload", warn);
    return () => window.removeEventListener("beforeunload", warn);
  }, [store]);

  const { step, toMoment, toEvent } = useMoments(store);
  useWorkbenchKeys(store, {
    step,
    toEvent,
    setBench,
    setLarge,
    point: () => setPointed([0.5, 0.75]),
    openFilters: () => setFiltersOpen(true),
    openKeys: () => setKeysOpen(true),
    rehearse: () => rehearse(),
  });

  const benchOf = useCallback(
    ({ evaluation: known, told, problem }: Snapshot) => {
      // What is known of a bench that was closed may be of an earlier scene: it is asked for first. Where nothing can be
      // worked out, what was known last is shown, with the fields to put it right.
      const evaluation = told.has(bench) || problem ? known : null;
      return (
        <>
          {bench === "frame" ? <FrameBench around={around} /> : null}
          {evaluation && bench === "light" ? (
            <LightBench light={evaluation.light} around={around} onEvent={toMoment} weatherTrouble={weatherTrouble} />
          ) : null}
          {evaluation && bench === "depth" ? <DepthBench depth={evaluation.depth} /> : null}
          {evaluation && bench === "exposure" ? <ExposureBench made={evaluation} /> : null}
          {evaluation && bench === "ways" ? <WaysBench /> : null}
          {evaluation && bench === "sequence" ? <SequenceBench sequence={evaluation.sequence} /> : null}
        </>
      );
    },
    [bench, around, toMoment, weatherTrouble],
  );
  const tensionsOf = useCallback(
    () => (
      <Tensions
        open={panes.tensionsOpen}
        tallest={panes.tensions}
        onOpen={(tensionsOpen) => putPanes({ tensionsOpen })}
        pocket={pocket}
      />
    ),
    [panes.tensionsOpen, panes.tensions, putPanes, pocket],
  );
  const made = state.evaluation;
  const place = around.places.find((one) => one.id === state.draft.place_id);
  const Layout = pocket ? PocketLayout : DeskLayout;
  return (
    <BenchProvider store={store} state={state} selected={selected} select={select} rehearse={rehearse}>
      <Layout
        panes={panes}
        putPanes={putPanes}
        bar={
          <TopBar
            tight={pocket}
            actions={
              <>
                <SaveStatus />
                <Button onClick={() => store.undo()} disabled={!state.canUndo} title="Ctrl Z" aria-label="Undo">
                  {pocket ? "↶" : "Undo"}
                </Button>
                <Button onClick={() => store.redo()} disabled={!state.canRedo} title="Ctrl Shift Z" aria-label="Redo">
                  {pocket ? "↷" : "Redo"}
                </Button>
                <Button onClick={() => setKeysOpen(true)} aria-label="Keys" title="Keys (?)">
                  ?
                </Button>
              </>
            }
          >
            <Box
              as="nav"
              aria-label="Where you are"
              color="muted"
              ml={{ base: "0", md: "3" }}
              minW="0"
              overflow="hidden"
              whiteSpace="nowrap"
              textOverflow="ellipsis"
            >
              <chakra.span hideBelow="md">
                <Link to="/places">{place?.place.name ?? "Places"}</Link> /{" "}
              </chakra.span>
              <chakra.h1 display="inline" fontWeight="700" color="ink">
                {state.draft.name}
              </chakra.h1>
            </Box>
          </TopBar>
        }
        rail={made ? <SettingsRail filtersOpen={filtersOpen} setFiltersOpen={setFiltersOpen} pocket={pocket} /> : null}
        alerts={
          <>
            {state.missing ? (
              <Box role="alert" bg="rustFaint" px="4" py="2">
                The {state.missing} this composition uses was deleted. Choose another on the Frame bench, or bring it back on the
                kit page.
              </Box>
            ) : null}
            <Problems />
          </>
        }
        pictures={
          made ? (
            <Pictures
              made={made}
              large={large}
              enlarge={setLarge}
              hands={hands}
              pointed={pointed}
              setPointed={setPointed}
              pocket={pocket}
              panes={panes}
              putPanes={putPanes}
            />
          ) : (
            <Loading what="the view" />
          )
        }
        tabs={<BenchTabs chosen={bench} choose={setBench} />}
        bench={
          <Box
            id="bench"
            role="tabpanel"
            aria-labelledby={`tab-${bench}`}
            flex="1"
            minH="0"
            position="relative"
            overflowY="auto"
            overflowX="hidden"
            tabIndex={0}
            css={pocket ? POCKET_BENCH : undefined}
            data-testid="bench"
          >
            <Suspense fallback={<Loading what="the bench" />}>
              <BenchIntro key={bench} bench={bench} />
              <Later>{benchOf}</Later>
            </Suspense>
          </Box>
        }
        tensions={<Later>{tensionsOf}</Later>}
        ribbon={
          made ? (
            <DayRibbon
              ribbon={made.light.ribbon}
              onMoment={toMoment}
              onStep={step}
              onEvent={toEvent}
              open={panes.ribbonOpen}
              onOpen={(ribbonOpen) => putPanes({ ribbonOpen })}
            />
          ) : (
            <Box h="105px" />
          )
        }
      />
      {rehearsing ? (
        <Suspense fallback={null}>
          <RehearsalRoom beside={rehearsing.beside} onClose={() => setRehearsing(undefined)} />
        </Suspense>
      ) : null}
      <ConflictSheet />
      <ShortcutsSheet open={keysOpen} onClose={() => setKeysOpen(false)} groups={WORKBENCH_KEYS} />
    </BenchProvider>
  );
}
