import { Box, Button } from "@chakra-ui/react";

import { Sheet } from "./Sheet";

/** Somebody saved the same thing meanwhile: both are shown, nothing is overwritten unasked. */
export function Conflict({
  what,
  saved,
  savedFacts,
  mineFacts,
  onTheirs,
  onMine,
}: {
  what: string;
  saved: string;
  savedFacts: string;
  mineFacts: string;
  onTheirs: () => void;
  onMine: () => void;
}) {
  return (
    <Sheet
      title={`This ${what} was saved elsewhere meanwhile`}
      open
      footer={
        <>
          <Button onClick={onTheirs}>Take the saved one</Button>
          <Button variant="solid" onClick={onMine}>
            Save mine over it
          </Button>
        </>
      }
    >
      <Box mb="3">
        <b>{saved}:</b>
        <br />
        {savedFacts}
      </Box>
      <Box>
        <b>Yours, on this screen:</b>
        <br />
        {mineFacts}
      </Box>
      <Box mt="3" color="muted">
        If you take the saved one, yours stays one Undo away.
      </Box>
    </Sheet>
  );
}
