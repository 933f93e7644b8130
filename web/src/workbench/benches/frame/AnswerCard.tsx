import { Box, Button, Flex } from "@chakra-ui/react";

import type { Answer } from "../../../api/types";
import { View } from "../../../instruments/View";
import { Fig, useBench } from "../../context";

/** The answer to a wish: what to do, what it gives and alters, and the picture it makes; or why not. */
export function AnswerCard({ answer, onApplied }: { answer: Answer; onApplied?: () => void }) {
  const { store } = useBench();
  if (answer.why_not)
    return (
      <Box role="status" borderLeftWidth="4px" borderColor="slate" pl="3" py="1" my="2" data-testid="why-not">
        {answer.why_not}
      </Box>
    );
  return (
    <Flex role="status" gap="4" my="2" p="3" bg="raised" borderWidth="1px" borderColor="moss" data-testid="answer">
      <Box w="200px" flexShrink="0">
        {answer.picture ? <View framing={answer.picture} small label="The picture then" /> : null}
      </Box>
      <Box flex="1" fontSize="13.5px">
        <Box fontWeight="700" fontSize="15px">
          {answer.label}
        </Box>
        {answer.gives}
        {answer.facts.map((fact) => (
          <Box key={fact.name}>
            <Box as="span" color="muted">
              {fact.name}:{" "}
            </Box>
            <Fig figure={fact.figure} />
          </Box>
        ))}
        {answer.alters.length > 0 ? (
          <Box mt="1">
            <Box color="muted">It also alters:</Box>
            <Box as="ul" pl="4" css={{ listStyle: "square" }}>
              {answer.alters.map((one) => (
                <li key={one}>{one}</li>
              ))}
            </Box>
          </Box>
        ) : null}
        <Button
          mt="2"
          variant="solid"
          onClick={() => {
            store.act("wish", ...answer.changes);
            onApplied?.();
          }}
        >
          Do it
        </Button>
      </Box>
    </Flex>
  );
}
