import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { skipToken, useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useState } from "react";
import { Link } from "react-router";

import { problemOf } from "../api/client";
import { compositionsQuery, placesQuery, queryClient, tracksQuery, usualVisitQuery } from "../api/queries";
import type { Along, CompositionBrief, DayShown, OutingPlan, OutingVisit, VisitShown } from "../api/types";
import { samePlanned } from "../board/onBoardPlan";
import { TakeAlong } from "../board/TakeAlong";
import { alongKey } from "../board/takeAlong";
import { Segments, TextField, TickField } from "../shell/fields";
import { notifyTrouble } from "../shell/notices";
import { Empty, Loading } from "../shell/states";
import { TopBar } from "../shell/TopBar";
import { AboutSheet } from "./AboutSheet";
import { AddPictures } from "./AddPictures";
import { DayLine } from "./DayLine";
import { FilesMenu } from "./FilesMenu";
import { FromBoard, type Held, NotPlanned, OnOuting, Saved } from "./OnOuting";
import { movedTo, spotsOf, visitOf, withVisit } from "./outingActs";
import { usePlan } from "./usePlan";
import { VisitSheet } from "./VisitSheet";
import { Weather } from "./Weather";
import { WhichDay } from "./WhichDay";

const OutingMap = lazy(() => import("./OutingMap"));
const WANTED = { must: "must", want: "want", if_fits: "if it fits" } as const;

type Side = "pictures" | "weather" | "days" | "cautions";
const SIDES = [
  ["pictures", "Pictures"],
  ["weather", "Go or stay"],
  ["days", "Which day"],
  ["cautions", "Cautions"],
] as const;

const Head = chakra("h2", { base: { fontWeight: "700", fontSize: "14px", mt: "3", mb: "1" } });

/** A picture in its time, in words. */
function VisitCard({
  one,
  chosen,
  onOpen,
  children,
}: {
  one: VisitShown;
  chosen: boolean;
  onOpen: () => void;
  children?: React.ReactNode;
}) {
  return (
    <Box
      py="2"
      pl="3"
      borderLeftWidth="4px"
      borderColor={chosen ? "rust" : "moss"}
      mb="2"
      bg={chosen ? "mossFaint" : "transparent"}
      data-testid={`visit-${one.name}`}
    >
      <chakra.details fontSize="12.5px" color="muted">
        <chakra.summary cursor="pointer">
          {one.way_there.leaves.text} {one.way_there.text}
        </chakra.summary>
        {one.way_there.reasons.map((reason) => (
          <Box key={reason} pl="4">
            {reason}
          </Box>
        ))}
      </chakra.details>
      <Flex gap="2" align="baseline">
        <chakra.button
          type="button"
          onClick={onOpen}
          fontWeight="700"
          textAlign="left"
          textDecoration="underline"
          flex="1"
          minW="0"
        >
          {one.name}
        </chakra.button>
        <Box fontSize="12.5px" color="muted" whiteSpace="nowrap">
          {WANTED[one.wanted]}
          {one.nailed ? ", nailed" : ""}
        </Box>
      </Flex>
      <Flex className="lr-fig" gap="3" fontSize="13px" wrap="wrap">
        <span>arrive {one.arrive.text}</span>
        <span>set up {one.set_up_by.text}</span>
        <b>first {one.first.text}</b>
        <span>leave by {one.leave_by.text}</span>
      </Flex>
      <Box fontSize="13px">{[one.before_light_text, one.frames_text].filter(Boolean).join("; ")}</Box>
      <Box fontSize="12.5px" color="muted">
        {one.slack_text}; {one.turn_back_text}
      </Box>
      {children}
    </Box>
  );
}

function DayHead({ day, several }: { day: DayShown; several: boolean }) {
  return (
    <Flex gap="3" align="baseline" wrap="wrap" mt={several && day.index > 0 ? "4" : "0"} mb="1">
      <Box as="h2" fontWeight="700" fontSize="15px">
        {day.date_text}
      </Box>
      <Box fontSize="14px">{day.heading}</Box>
      <Box color="muted" fontSize="12.5px">
        {day.leave_text}
      </Box>
    </Flex>
  );
}

/** An outing: its line of time, its ways, what falls and why, whether to go, and on which day. */
export default function OutingPage() {
  return <OnOuting what="the outing">{(held) => <Whole {...held} />}</OnOuting>;
}

function underway(plan: OutingPlan | undefined) {
  return (plan?.plan.days ?? []).some((day) => day.now !== null);
}

function Whole({ id, store, state }: Held) {
  const { draft } = state;
  const { outing } = draft;
  const [fromNow, setFromNow] = useState<string | null>(null);
  const query = usePlan(id, outing, fromNow);
  const shown = query.data;
  const along = useQuery<Along>({ queryKey: alongKey(id), queryFn: skipToken });
  const places = useQuery(placesQuery);
  const tracks = useQuery(tracksQuery);
  const compositions = useQuery(compositionsQuery);
  const [chosen, setChosen] = useState<string>();
  const [open, setOpen] = useState<string>();
  const [sheet, setSheet] = useState<"add" | "about">();
  const [side, setSide] = useState<Side>("pictures");
  const names = new Map((compositions.data ?? []).map((one) => [one.id, one.name]));
  const nameOf = (visit: OutingVisit) => names.get(visit.composition_id) ?? "A composition that is no longer there";
  const visit = outing.visits.find((one) => one.id === open);
  const errors = query.isError ? problemOf(query.error).errors : (state.problem?.errors ?? []);
  const problem = (end: string) => errors.find((one) => one.pointer.endsWith(end))?.message;
  const change = (visitId: string, part: Partial<OutingVisit>, joined = false) =>
    store.outing((before) => withVisit(before, visitId, (one) => ({ ...one, ...part })), joined);
  const left = (visitId: string) => {
    const at = new Date().toISOString();
    setFromNow(at);
    store.outing((before) => ({
      ...before,
      done: [...before.done.filter((one) => one.visit_id !== visitId), { visit_id: visitId, left_at: at }],
    }));
  };
  const add = async (found: readonly CompositionBrief[]) => {
    try {
      const usual = await queryClient.fetchQuery(usualVisitQuery);
      store.outing((before) => ({ ...before, visits: [...before.visits, ...found.map((one) => visitOf(one, usual))] }));
    } catch (error) {
      notifyTrouble(error);
    }
  };
  const takeAlong = (compositionId: string) => add((compositions.data ?? []).filter((one) => one.id === compositionId));
  const out = underway(shown) || fromNow !== null;
  const plan = shown?.plan;
  return (
    <Flex direction="column" minH="100%">
      <TopBar />
      <Box as="main" px={{ base: "4", md: "6" }} py="3" w="100%" maxW="1440px" mx="auto">
        <Flex gap="3" align="end" wrap="wrap" mb="2">
          <Box w={{ base: "100%", sm: "300px" }}>
            <TextField
              quiet
              label="Name of the outing"
              value={draft.name}
              onCommit={(name) => name && store.change({ ...draft, name })}
            />
          </Box>
          <Button variant="solid" onClick={() => setSheet("add")}>
            Add pictures
          </Button>
          <Button onClick={() => setSheet("about")}>Days and ways</Button>
          <Button disabled={state.done.length === 0} onClick={store.undo}>
            Undo
          </Button>
          <Button disabled={state.undone.length === 0} onClick={store.redo}>
            Redo
          </Button>
          <Box flex="1" minW="10rem" fontWeight="600" role="status" data-testid="plan-heading" opacity={query.behind ? 0.6 : 1}>
            {plan && outing.visits.length > 0 ? plan.value_text : ""}
          </Box>
          <Saved state={state} />
          <Button asChild variant="outline">
            <Link to={`/outings/${id}/pack`}>Pack{shown ? ` ${shown.readiness.ticked}/${shown.readiness.lines}` : ""}</Link>
          </Button>
          <Button asChild>
            <Link to={`/outings/${id}/way`}>On the way</Link>
          </Button>
          <TakeAlong
            kind="outing"
            of={id}
            disabled={state.save !== "saved"}
            changed={along.data !== undefined && !samePlanned(along.data.outing.outing, outing)}
          />
          <FilesMenu id={id} disabled={state.save !== "saved"} />
          {out ? (
            <TickField
              label="Plan from now on"
              value={fromNow !== null}
              onCommit={(on) => setFromNow(on ? new Date().toISOString() : null)}
            />
          ) : null}
        </Flex>
        <NotPlanned query={query} store={store} />
        <FromBoard query={query} />
        {(shown?.gone ?? []).map((words, k) => (
          <Box key={k} role="alert" borderLeftWidth="4px" borderColor="rust" pl="3" my="2">
            {words}
          </Box>
        ))}
        {outing.visits.length === 0 ? (
          <Empty
            title="Which pictures?"
            action={
              <Button variant="solid" size="md" onClick={() => setSheet("add")}>
                Add pictures
              </Button>
            }
          >
            Choose the compositions you want. When each has its light, how long the ways take and when the tide lets you on are
            worked out, and the best order with them.
          </Empty>
        ) : null}
        {plan && outing.visits.length > 0 ? (
          <Flex direction={{ base: "column", lg: "row" }} gap="5">
            <Box flex="1.65" minW="0">
              {plan.days.map((day) => (
                <Box key={day.index}>
                  <DayHead day={day} several={plan.days.length > 1} />
                  <DayLine
                    day={day}
                    chosen={chosen}
                    onChoose={setChosen}
                    onNail={(visitId, at) => {
                      setChosen(visitId);
                      change(visitId, { first_at: at });
                    }}
                    onNudge={(visitId, minutes, from) => {
                      const nailed = store.get().draft.outing.visits.find((one) => one.id === visitId)?.first_at;
                      const at = new Date(Date.parse(nailed ?? from) + minutes * 60_000).toISOString();
                      setChosen(visitId);
                      change(visitId, { first_at: at }, Boolean(nailed));
                    }}
                    onLetGo={(visitId) => change(visitId, { first_at: null })}
                  />
                </Box>
              ))}
              <Box fontSize="12.5px" color="muted" my="1">
                Take hold of a row to put its first frame to another time; Delete lets it go. Wedge: set-up. Full: frames. Falling:
                time to spare. Dots: its light.
              </Box>
              <Suspense fallback={<Loading what="the map" />}>
                <OutingMap plan={plan} chosen={chosen} high="300px" />
              </Suspense>
            </Box>
            <Box flex="1" minW="0">
              <Segments label="Beside the line" value={side} options={SIDES} onCommit={setSide} />
              <Box mt="3" opacity={query.behind ? 0.7 : 1}>
                {side === "pictures" ? (
                  <>
                    {plan.left_out.length > 0 ? <Head>Left out, and why</Head> : null}
                    {plan.left_out.map((one) => (
                      <Box
                        key={one.visit_id}
                        py="2"
                        pl="3"
                        borderLeftWidth="4px"
                        borderLeftStyle="dashed"
                        borderColor="rust"
                        mb="2"
                        data-testid={`left-out-${one.name}`}
                      >
                        <Flex gap="2">
                          <chakra.button
                            type="button"
                            onClick={() => setOpen(one.visit_id)}
                            fontWeight="700"
                            textDecoration="underline"
                            flex="1"
                            textAlign="left"
                          >
                            {one.name}
                          </chakra.button>
                          <Box fontSize="12.5px" color="muted">
                            {WANTED[one.wanted]}
                          </Box>
                        </Flex>
                        <Box fontSize="13px">{one.why}</Box>
                        <Box fontSize="13px" fontWeight="600">
                          {one.remedy}
                        </Box>
                      </Box>
                    ))}
                    {plan.days.map((day) =>
                      day.visits.map((one, k) => (
                        <Box key={one.visit_id}>
                          {k === 0 && plan.days.length > 1 ? <Head>{day.date_text}</Head> : null}
                          <VisitCard one={one} chosen={one.visit_id === chosen} onOpen={() => setOpen(one.visit_id)}>
                            {day.now ? (
                              <Button mt="1" onClick={() => left(one.visit_id)}>
                                Done here, leaving now
                              </Button>
                            ) : null}
                          </VisitCard>
                        </Box>
                      )),
                    )}
                  </>
                ) : null}
                {side === "weather" && shown ? (
                  <Weather weather={shown.weather} outing={outing} onAdd={(one) => void takeAlong(one)} />
                ) : null}
                {side === "days" ? (
                  <WhichDay outing={outing} onChoose={(first) => store.outing((before) => movedTo(before, first))} />
                ) : null}
                {side === "cautions" && shown ? (
                  <>
                    {shown.readiness.cautions.map((one) => (
                      <Box key={one.about + one.text} py="2" borderTopWidth="1px" borderColor="line">
                        <b>{one.about}.</b> {one.text}
                      </Box>
                    ))}
                    <Box color="muted" mt="3">
                      {shown.readiness.standing_caution}
                    </Box>
                  </>
                ) : null}
              </Box>
            </Box>
          </Flex>
        ) : null}
        {!plan && !query.isError && outing.visits.length > 0 ? <Loading what="the plan" /> : null}
      </Box>
      {sheet === "add" ? (
        <AddPictures
          there={new Set(outing.visits.map((one) => one.composition_id))}
          onAdd={(found) => void add(found)}
          onClose={() => setSheet(undefined)}
        />
      ) : null}
      {sheet === "about" ? (
        <AboutSheet
          outing={outing}
          spots={spotsOf(places.data ?? [], tracks.data ?? [])}
          problem={problem}
          onChange={(fn) => store.outing(fn)}
          onClose={() => setSheet(undefined)}
        />
      ) : null}
      {visit ? (
        <VisitSheet
          visit={visit}
          name={nameOf(visit)}
          outing={outing}
          problem={(field) => problem(`/visits/${outing.visits.indexOf(visit)}${field}`)}
          onChange={(part) => change(visit.id, part)}
          onRemove={() => {
            setOpen(undefined);
            store.outing((before) => ({ ...before, visits: before.visits.filter((one) => one.id !== visit.id) }));
          }}
          onClose={() => setOpen(undefined)}
        />
      ) : null}
    </Flex>
  );
}
