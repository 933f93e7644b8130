import { Box, chakra, Flex } from "@chakra-ui/react";
import { skipToken, useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";

import type { Along, SequenceOut } from "../api/types";
import { TakeAlong } from "../board/TakeAlong";
import { alongKey } from "../board/takeAlong";
import { Empty } from "../shell/states";
import { TopBar } from "../shell/TopBar";

const Head = chakra("h2", { base: { fontWeight: "700", fontSize: "19px", mt: "6", mb: "1" } });
const Cell = chakra("td", { base: { py: "4px", pr: "2", borderTopWidth: "1px", borderColor: "line", verticalAlign: "top" } });
const Back = chakra(Link, { base: { minH: "48px", display: "inline-flex", alignItems: "center", textDecoration: "underline" } });

/** A sequence as a card: what to set for each frame, in order. */
function Card({ sequence: { id, plan } }: { sequence: SequenceOut }) {
  const { frames, total, problem } = plan.sequence;
  return (
    <Box as="section" aria-label={plan.composition_name} data-testid="card">
      <Head>{plan.composition_name}</Head>
      <Box color="muted">
        {plan.place_name}, {plan.moment_text}; {plan.light_text}; {total.text} in all
      </Box>
      <Back to={`/field/${id}`}>Carry it out</Back>
      {problem ? <Box color="rust">{problem}</Box> : null}
      <Box overflowX="auto" tabIndex={0} role="group" aria-label={`Frames of ${plan.composition_name}`}>
        <chakra.table w="100%" fontSize="14px" css={{ borderCollapse: "collapse" }}>
          <tbody>
            {frames.map((frame) => (
              <tr key={frame.number}>
                <Cell fontFamily="mono">{frame.number}</Cell>
                <Cell>
                  {frame.caption}
                  {frame.actions.length > 0 ? <Box color="muted">{frame.actions.join("; ")}</Box> : null}
                </Cell>
                <Cell fontFamily="mono" textAlign="right" pr="0">
                  {frame.focus.text}, {frame.aperture.text}
                  <Box fontWeight="700">{frame.shutter.text}</Box>
                  ISO {frame.iso.text}
                </Cell>
              </tr>
            ))}
          </tbody>
        </chakra.table>
      </Box>
      {plan.cautions.map((one) => (
        <Box key={one} borderLeftWidth="4px" borderColor="rust" pl="3" my="2" fontSize="14px">
          {one}
        </Box>
      ))}
    </Box>
  );
}

/** The note to leave, and the card of each sequence, as they were taken along. */
export default function CardsPage() {
  const { id = "" } = useParams();
  const { data } = useQuery<Along>({ queryKey: alongKey(id), queryFn: skipToken });
  return (
    <Flex direction="column" minH="100%">
      <TopBar />
      <Box as="main" px="4" py="2" w="100%" maxW="640px" mx="auto">
        <Back to={`/outings/${id}/way`}>← On the way</Back>
        <chakra.h1 fontSize="24px" fontWeight="700">
          {data ? `${data.outing.name}: cards and note` : "Cards and note"}
        </chakra.h1>
        {data ? (
          <>
            {data.sequences.map((one) =>
              one.sequence ? (
                <Card key={one.visit_id} sequence={one.sequence} />
              ) : (
                <Box key={one.visit_id} color="rust" mt="4">
                  {one.name || "A picture"}: {one.lacking}
                </Box>
              ),
            )}
            <Head>The note to leave with somebody</Head>
            <chakra.pre fontFamily="inherit" fontSize="15px" whiteSpace="pre-wrap" overflowWrap="anywhere">
              {data.note}
            </chakra.pre>
          </>
        ) : (
          <Empty title="Not on board yet" action={<TakeAlong kind="outing" of={id} />}>
            Cards and note come onto this device with the outing.
          </Empty>
        )}
      </Box>
    </Flex>
  );
}
