import { Box, Button } from "@chakra-ui/react";
import { useState } from "react";

import { notify, notifyTrouble } from "../shell/notices";
import { useNow } from "../shell/useNow";
import { useUnits } from "../shell/units";
import type { BoardItem } from "./store";
import { type Going, takeOutingAlong, takeSequenceAlong } from "./takeAlong";
import { useBoard } from "./useBoard";
import { agoWords, sizeWords } from "./words";

/** Put an outing, or one sequence, on board of this device; says how far it is and how fresh what is there is. */
export function TakeAlong({
  kind,
  of,
  disabled = false,
  changed = false,
}: {
  kind: "outing" | "sequence";
  of: string;
  disabled?: boolean;
  /** It was changed since: what is on board is another one. */
  changed?: boolean;
}) {
  const units = useUnits();
  const board = useBoard();
  const now = useNow(30_000);
  const [going, setGoing] = useState<Going>();
  const there = board?.items.find((one) => one.kind === kind && one.of === of);
  const told = (item: BoardItem) =>
    notify({
      title: `On board: ${item.name}, ${sizeWords(item.bytes)}`,
      detail: item.lacking.length > 0 ? `Not on board: ${item.lacking.join(" ")}` : "It opens without a network on this device.",
      ...(item.lacking.length > 0 ? { kind: "trouble" as const } : {}),
    });
  const take = () => {
    setGoing({ what: "", share: 0 });
    const made = kind === "outing" ? takeOutingAlong(of, units, setGoing) : takeSequenceAlong(of, units);
    made
      .then(told, (error: unknown) =>
        error instanceof DOMException
          ? notify({
              title: "Not on board: this browser has no room",
              detail: "Take something else off under On board, or make room on this device.",
              kind: "trouble",
            })
          : notifyTrouble(error),
      )
      .finally(() => setGoing(undefined));
  };
  return (
    <>
      <Button onClick={take} disabled={disabled || going !== undefined} data-testid="take-along">
        {going ? `Taking along ${Math.round(going.share * 100)} %` : there ? "Take along again" : "Take along"}
      </Button>
      <Box role="status" fontSize="12.5px" color="muted" data-testid="on-board">
        {going ? going.what : there ? `on board, ${agoWords(there.takenAt, now)}${changed ? "; changed since" : ""}` : ""}
      </Box>
    </>
  );
}
