import { Box, Button } from "@chakra-ui/react";
import { useState } from "react";

import type { Fault } from "../api/types";
import { TextField } from "../shell/fields";
import { Sheet } from "../shell/Sheet";
import { FAULTS } from "./faults";

/** What went wrong with a frame, by the trade's faults. */
export function FaultSheet({
  open,
  onClose,
  onChoose,
}: {
  open: boolean;
  onClose: () => void;
  onChoose: (fault: Fault | null, note: string) => void;
}) {
  const [note, setNote] = useState("");
  return (
    <Sheet
      title="What went wrong?"
      open={open}
      onClose={onClose}
      footer={
        <Button size="lg" onClick={() => onChoose(null, note)}>
          Only the note
        </Button>
      }
    >
      <TextField label="note" value={note} onCommit={setNote} />
      <Box display="grid" gridTemplateColumns="1fr 1fr" gap="2" mt="3">
        {FAULTS.map((fault) => (
          <Button key={fault} h="48px" whiteSpace="normal" onClick={() => onChoose(fault, note)}>
            {fault}
          </Button>
        ))}
      </Box>
    </Sheet>
  );
}
