import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";

import { api, ask } from "../api/client";
import { learningQuery, renew } from "../api/queries";
import type { Proposal } from "../api/types";
import { notify, notifyTrouble } from "../shell/notices";
import { Empty, Loading, Trouble } from "../shell/states";
import { paint } from "../theme/system";

const WIDE = 520;
const HIGH = 150;
const FOOT = 20;
const ROOM = 26;

/** More marks than that and every other one is named. */
const MOST_NAMED = 9;
const across = (share: number) => ROOM + share * (WIDE - 2 * ROOM);
const up = (share: number) => HIGH - ROOM - share * (HIGH - 2 * ROOM);

/** The takes over their shutter times, the higher the better rated; one's own span and that of common practice. */
function Dots({ one }: { one: Proposal }) {
  const span = (of: readonly [number, number] | readonly number[], y: number, colour: string, dashed: boolean) => (
    <line
      x1={across(of[0] ?? 0)}
      x2={across(of[1] ?? 1)}
      y1={y}
      y2={y}
      stroke={paint(colour)}
      strokeWidth={5}
      strokeDasharray={dashed ? "7 4" : undefined}
    />
  );
  return (
    <chakra.svg
      viewBox={`0 0 ${WIDE} ${HIGH + FOOT}`}
      w="100%"
      maxW="640px"
      role="img"
      aria-label={`${one.title}: ${one.evidence}`}
    >
      {one.marks.map((mark, k) => (
        <g key={mark.at}>
          <line x1={across(mark.at)} x2={across(mark.at)} y1={6} y2={HIGH} stroke={paint("line")} />
          <text x={across(mark.at)} y={HIGH + 14} fontSize={10.5} textAnchor="middle" fill={paint("muted")}>
            {one.marks.length > MOST_NAMED && k % 2 === 1 ? "" : mark.text}
          </text>
        </g>
      ))}
      {one.common && span(one.common, HIGH - 2, "slate", true)}
      {one.own && span(one.own, 8, "moss", false)}
      {one.dots.map((dot, i) => (
        // Takes with one shutter time and one rating lie over each other: the paler for being one.
        <circle key={i} cx={across(dot.x)} cy={up(dot.y)} r={4.5} fill={paint("ink")} fillOpacity={0.35} />
      ))}
    </chakra.svg>
  );
}

function Learned({ one }: { one: Proposal }) {
  const act = useMutation({
    mutationFn: async (to: "taken-on" | "given-up") =>
      to === "taken-on"
        ? await ask(api.POST("/api/learning/taken-on", { body: { key: one.key } }))
        : await ask(api.POST("/api/learning/given-up", { body: { key: one.key } })),
    onSuccess: (made, to) => {
      void renew("learning", "compositions", "composition", "preferences", "outings");
      notify({
        title: to === "taken-on" ? `${one.title}: your own holds` : `${one.title}: common practice holds`,
        detail: made.holds_text,
        undo: () => act.mutate(to === "taken-on" ? "given-up" : "taken-on"),
      });
    },
    onError: notifyTrouble,
  });
  return (
    <Box
      bg="panel"
      borderWidth="1px"
      borderColor="line"
      p="4"
      gridColumn={one.dots.length > 0 ? "1 / -1" : undefined}
      data-testid={`learned-${one.key}`}
      data-state={one.state}
    >
      <Flex gap="5" wrap="wrap" align="start">
        <Box flex="1" minW="260px">
          <chakra.h2 fontWeight="700" fontSize="17px">
            {one.title}
          </chakra.h2>
          <Box mt="1">
            <Box as="span" borderBottomWidth="4px" borderColor="moss" fontWeight="700">
              Your own: {one.own_text}
            </Box>
          </Box>
          <Box mt="2">
            <Box as="span" borderBottomWidth="3px" borderStyle="dashed" borderColor="slate">
              Common practice: {one.common_text}
            </Box>
          </Box>
          <Box color="muted" fontSize="13.5px" mt="2" mb="3">
            {one.evidence}
          </Box>
          {one.state === "changed" && (
            <Box fontSize="13.5px" mb="2">
              You took on {one.taken_text}; your takes say otherwise by now.
            </Box>
          )}
          <Flex gap="2" wrap="wrap">
            {one.state !== "taken" && (
              <Button
                aria-label={`Use my own: ${one.title}`}
                variant="solid"
                loading={act.isPending}
                onClick={() => act.mutate("taken-on")}
              >
                Use my own
              </Button>
            )}
            {one.state !== "proposed" && (
              <Button
                aria-label={`Back to common practice: ${one.title}`}
                loading={act.isPending}
                onClick={() => act.mutate("given-up")}
              >
                Back to common practice
              </Button>
            )}
          </Flex>
        </Box>
        {one.dots.length > 0 ? (
          <Box flex="2" minW={{ base: "100%", md: "420px" }}>
            <Dots one={one} />
          </Box>
        ) : null}
      </Flex>
    </Box>
  );
}

/** What one's own takes say otherwise than common practice: taken on by a press, given up by another. */
export function YourOwn() {
  const learning = useQuery(learningQuery);
  if (learning.isError && !learning.data) return <Trouble error={learning.error} again={() => void learning.refetch()} />;
  if (!learning.data) return <Loading what="what your takes say" />;
  const { proposals, rated } = learning.data;
  return (
    <Box data-testid="your-own">
      <Box color="muted" fontSize="13.5px" mb="3" maxW="70ch">
        What your own takes say beside common practice. Use your own, and what you plan goes by it; one press goes back.
      </Box>
      {proposals.length === 0 && (
        <Empty title="Nothing clear yet">
          {rated === 0
            ? "Rate your takes: from eight of moving water at different shutter times on, what you like best shows here."
            : `${rated} takes are rated. It takes eight of moving water at different shutter times, and a difference that is no chance.`}{" "}
          With time it also shows how still you hold by hand, your pace, how long you set up, how long your batteries last, and how
          far to back off for saturated colours.
        </Empty>
      )}
      <Box display="grid" gridTemplateColumns={{ base: "1fr", lg: "1fr 1fr" }} gap="4">
        {proposals.map((one) => (
          <Learned key={one.key} one={one} />
        ))}
      </Box>
    </Box>
  );
}
