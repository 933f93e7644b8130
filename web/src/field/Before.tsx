import { Box, Button, chakra, Flex } from "@chakra-ui/react";

import type { SequenceOut } from "../api/types";
import { TakeAlong } from "../board/TakeAlong";
import { Row } from "./Row";

/** What is coming, before the first frame. */
export function Before({ sequence: { id, plan }, onBegin }: { sequence: SequenceOut; onBegin: () => void }) {
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
      <Button variant="solid" size="xl" onClick={onBegin} mt="4">
        Begin
      </Button>
    </Flex>
  );
}
