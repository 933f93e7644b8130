import { Box, Button, Flex } from "@chakra-ui/react";

import { wordsOf } from "../api/client";
import { useBench } from "./context";

/** Why the scene cannot be computed, and the ways out. */
export function Problems() {
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
