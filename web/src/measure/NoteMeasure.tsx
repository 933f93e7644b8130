import { Button } from "@chakra-ui/react";
import { useState } from "react";

import { TextField } from "../shell/fields";
import type { Of } from "./MeasurePage";
import { recordMeasured } from "./record";

/** Words from the spot. */
export function NoteMeasure({ of }: { of: Of }) {
  const [text, setText] = useState("");
  const keep = () => {
    void recordMeasured(of.id, `Note on ${of.name}`, { kind: "note", text });
    setText("");
  };
  return (
    <>
      <TextField long label="note" value={text} onCommit={setText} placeholder="The gate is locked; the boulder stands in water" />
      <Button h="52px" w="100%" mt="2" variant="solid" disabled={text.trim() === ""} onClick={keep}>
        Keep this note
      </Button>
    </>
  );
}
