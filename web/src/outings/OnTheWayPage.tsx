import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { skipToken, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import type { Along, Outing, OutingPlan, PlanShown } from "../api/types";
import { alongKey } from "../board/takeAlong";
import { Segments } from "../shell/fields";
import { Loading } from "../shell/states";
import { TopBar } from "../shell/TopBar";
import { useNow } from "../shell/useNow";
import { FromBoard, type Held, NotPlanned, OnOuting, Saved } from "./OnOuting";
import { until } from "./until";
import { usePlan } from "./usePlan";

const MINUTE_MS = 60_000;
type Late = "0" | "5" | "10" | "20";

const stepsOf = (plan: PlanShown) => plan.days.flatMap((day) => day.steps);
const keptOf = (plan: PlanShown) => plan.days.flatMap((day) => day.visits.map((one) => one.visit_id));

/** What fits no more: pictures that the plan held, and the later one does not. */
function Fallen({
  before,
  after,
  done,
  here,
}: {
  before: OutingPlan;
  after: OutingPlan;
  done: ReadonlySet<string>;
  here: string | undefined;
}) {
  const kept = new Set(keptOf(after.plan));
  const fallen = before.plan.days
    .flatMap((day) => day.visits)
    .filter((one) => !kept.has(one.visit_id) && !done.has(one.visit_id) && one.visit_id !== here);
  if (fallen.length === 0)
    return (
      <Box role="status" fontSize="16px">
        Everything still fits.
      </Box>
    );
  return (
    <Box role="alert">
      {fallen.map((one) => {
        const why = after.plan.left_out.find((left) => left.visit_id === one.visit_id);
        return (
          <Box key={one.visit_id} borderLeftWidth="4px" borderColor="rust" pl="3" py="1" mb="2">
            <Box fontWeight="700" fontSize="17px">
              {one.name} falls
            </Box>
            <Box>{why?.why}</Box>
            <Box fontWeight="600">{why?.remedy}</Box>
          </Box>
        );
      })}
    </Box>
  );
}

/** The plan when one leaves later than planned: where one is then counts as done. Without an instant, the plan as it is. */
function useLater(id: string, outing: Outing, leaving: string | undefined, at: number | null, now: string | null) {
  const from = at === null ? now : new Date(at).toISOString();
  const then: Outing =
    at === null || !leaving
      ? outing
      : { ...outing, done: [...outing.done, { visit_id: leaving, left_at: new Date(at).toISOString() }] };
  // The same outing asked about again is the same question.
  const [held, setHeld] = useState(then);
  if (JSON.stringify(held) !== JSON.stringify(then)) setHeld(then);
  return usePlan(id, held, from);
}

/** The sequence of a picture that was taken along with an outing. */
function useOnBoardSequence(id: string, visitId: string | undefined): string | undefined {
  const { data } = useQuery<Along>({ queryKey: alongKey(id), queryFn: skipToken });
  return data?.sequences.find((one) => one.visit_id === visitId)?.sequence?.id;
}

/** On the way: the next step in large letters, what falls when one stays longer, and what has been done. */
export default function OnTheWayPage() {
  return <OnOuting what="the outing">{(held) => <Whole {...held} />}</OnOuting>;
}

function Whole({ id, store, state }: Held) {
  const { outing, name } = state.draft;
  const now = useNow(1000);
  const [late, setLate] = useState<Late>("0");
  // What was left last, and when, is where and from when the rest is planned: a plan that stays until the next press.
  const last = [...outing.done].sort((a, b) => a.left_at.localeCompare(b.left_at)).at(-1);
  const plan = usePlan(id, outing, last?.left_at ?? null);
  const shown = plan.data;
  const done = new Set(outing.done.map((one) => one.visit_id));
  // A picture is left when that is said; everything else has happened when its time is past.
  const ahead = (shown ? stepsOf(shown.plan) : []).filter((one) => one.kind === "leave_by" || Date.parse(one.at_utc) > now);
  const next = ahead[0];
  const visits = (shown?.plan.days ?? []).flatMap((day) => day.visits);
  // The picture that one is at or on the way to; it can be done with once one is there.
  const about = visits.find((one) => one.visit_id === next?.visit_id);
  const sequence = useOnBoardSequence(id, about?.visit_id);
  const leaving = next?.kind === "arrive" ? undefined : about;
  const planned = about ? Date.parse(about.leave_by.at_utc) : next ? Date.parse(next.at_utc) : now;
  const overdue = Math.max(Math.ceil((now - planned) / MINUTE_MS), 0);
  const minutes = Math.max(Number(late), overdue);
  const later = useLater(id, outing, about?.visit_id, minutes === 0 ? null : planned + minutes * MINUTE_MS, last?.left_at ?? null);
  const leave = () => {
    if (!leaving) return;
    setLate("0");
    const gone = { visit_id: leaving.visit_id, left_at: new Date().toISOString() };
    store.outing((before) => ({ ...before, done: [...before.done.filter((one) => one.visit_id !== gone.visit_id), gone] }));
  };
  return (
    <Flex direction="column" minH="100%">
      <TopBar />
      <Box as="main" px="4" py="4" w="100%" maxW="560px" mx="auto">
        <Flex align="center" gap="3">
          <Box flex="1">
            <Link
              to={`/outings/${id}`}
              style={{ textDecoration: "underline", display: "inline-flex", minHeight: 48, alignItems: "center" }}
            >
              {name}
            </Link>
          </Box>
          <Link
            to={`/outings/${id}/cards`}
            style={{ textDecoration: "underline", display: "inline-flex", minHeight: 48, alignItems: "center" }}
          >
            Cards and note
          </Link>
          <Saved state={state} />
        </Flex>
        <NotPlanned query={plan} store={store} />
        <FromBoard query={plan} />
        {!shown && !plan.isError ? <Loading what="the plan" /> : null}
        {shown ? (
          next ? (
            <Box my="4" data-testid="next-step">
              <Box fontSize="18px">{next.text}</Box>
              <Box
                className="lr-fig"
                fontSize="44px"
                fontWeight="700"
                lineHeight="1.1"
                role="timer"
                aria-label={`Until: ${next.text}`}
              >
                {until(Date.parse(next.at_utc), now)}
              </Box>
              <Box fontSize="16px">
                <span className="lr-fig">{next.clock_text}</span> · {next.note}
              </Box>
              {sequence ? (
                <Button asChild variant="outline" h="56px" w="100%" mt="4" fontSize="17px">
                  <Link to={`/field/${sequence}`}>Carry out {about?.name}</Link>
                </Button>
              ) : null}
              {leaving ? (
                <Button variant="solid" h="56px" fontSize="17px" w="100%" mt="3" onClick={leave}>
                  Done at {leaving.name}
                </Button>
              ) : null}
            </Box>
          ) : (
            <chakra.h1 fontSize="26px" fontWeight="700" my="4">
              {outing.visits.length === 0 ? "No pictures on this outing" : "Nothing is left of this outing"}
            </chakra.h1>
          )
        ) : null}
        {shown && next ? (
          <Box mb="5" data-testid="running-late">
            <Box fontSize="13px" color="muted" mb="1">
              {about ? `If I leave ${about.name} later than planned by` : "If I set out later than planned by"}
            </Box>
            <Segments
              tall
              label="Running late by"
              value={late}
              options={[
                ["0", "nothing"],
                ["5", "5 min"],
                ["10", "10 min"],
                ["20", "20 min"],
              ]}
              onCommit={setLate}
            />
            <Box mt="3" opacity={later.behind ? 0.6 : 1}>
              {later.data ? <Fallen before={shown} after={later.data} done={done} here={about?.visit_id} /> : null}
            </Box>
          </Box>
        ) : null}
        {ahead.slice(1).map((one) => (
          <Flex
            key={`${one.kind}${one.visit_id ?? ""}${one.day}`}
            minH="48px"
            py="2"
            gap="3"
            borderTopWidth="1px"
            borderColor="line"
          >
            <Box className="lr-fig" fontSize="17px" fontWeight="700" w="64px">
              {one.clock_text}
            </Box>
            <Box flex="1" minW="0">
              <Box fontSize="16px">{one.text}</Box>
              <Box fontSize="13px" color="muted">
                {one.note}
              </Box>
            </Box>
          </Flex>
        ))}
        {outing.done.length > 0 ? (
          <Box mt="4">
            <Button h="48px" onClick={store.undo} disabled={state.done.length === 0}>
              Undo
            </Button>
            <Button ml="2" h="48px" onClick={() => store.outing((before) => ({ ...before, done: [] }))}>
              Begin anew: nothing is done
            </Button>
          </Box>
        ) : null}
        {shown?.readiness.cautions.map((one) => (
          <Box key={one.about + one.text} py="2" borderTopWidth="1px" borderColor="line" fontSize="14px">
            <b>{one.about}.</b> {one.text}
          </Box>
        ))}
      </Box>
    </Flex>
  );
}
