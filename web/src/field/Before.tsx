import { Box, Button, chakra, Flex } from "@chakra-ui/react";

import type { SequenceOut } from "../api/types";
import { TakeAlong } from "../board/TakeAlong";
import { timeThere } from "../shell/moments";
import { Row } from "./Row";

interface Props {
  sequence: SequenceOut;
  /** When one was there and began to set up, where that was said. */
  arrivedAt: string | null;
  onArrive: () => void;
  onNotThere: () => void;
  onBegin: () => void;
}

/** What is coming, before the first frame. */
export function Before({ sequence: { id, plan }, arrivedAt, onArrive, onNotThere, onBegin }: Props) {
  const { sequence } = plan;
  return (
    <Flex direction="column" flex="1" mt="18px">
      <chakra.h1 fontSize="27px" fontWeight="700" lineHeight="1.2">
        {plan.composition_name}
      </chakra.h1>
      <Box color="muted" mb="3">
        {plan.place_name}, {plan.moment_text}
      </Box>
      <Box borderWidth="1px" borderColor="line" bg="panel" mb="4">
        <Row
          name="Frames"
          value={[
            ...(sequence.panel_count > 1 ? [`${sequence.panel_count} panels`] : []),
            sequence.slice_count,
            sequence.bracket_count,
          ].join(" × ")}
        />
        <Row name="Takes" value={sequence.total.text} />
        <Row name="Light" value={plan.light_text} />
        {plan.reading_text ? <Row name="Reading" value={plan.reading_text} /> : null}
        <Row name="Light changes" value={sequence.drift.text} />
      </Box>
      {plan.cautions.map((caution) => (
        <Box key={caution} borderLeftWidth="4px" borderColor="rust" pl="10px" mb="2" fontSize="15px">
          {caution}
        </Box>
      ))}
      <Box flex="1" />
      <Flex align="center" gap="3" mt="3" minH="48px">
        <TakeAlong kind="sequence" of={id} />
      </Flex>
      {arrivedAt ? (
        <Flex align="center" gap="3" minH="52px" mt="3" borderLeftWidth="4px" borderColor="moss" pl="10px" role="status">
          <Box flex="1">Here since {timeThere(arrivedAt, plan.time_zone)}. Set up, then begin.</Box>
          <Button onClick={onNotThere}>Not yet</Button>
        </Flex>
      ) : (
        <Button size="lg" h="52px" onClick={onArrive} mt="3">
          I am here, setting up
        </Button>
      )}
      <Button variant="solid" size="xl" onClick={onBegin} mt="4">
        Begin
      </Button>
    </Flex>
  );
}
