import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useState } from "react";

import type { SequenceOut } from "../api/types";
import { TextField } from "../shell/fields";
import { Rating } from "../shell/Rating";
import type { Clock } from "./clock";
import type { Progress } from "./useCarryOut";
import { sendWaiting, waitToSend } from "../board/outbox";

interface Props {
  sequence: SequenceOut;
  progress: Progress;
  clock: Clock;
  /** What the camera has taken and not handed over yet, in words. */
  coming: string | undefined;
  onAgain: () => void;
  onDone: () => void;
  /** It is kept in the outbox, and the page has nothing more to do. */
  onHandedOver: () => void;
}

const MOST_NOTE = 4000;

/** The end of a sequence: rate it, note what happened, write the take. */
export function FinishTake({ sequence, progress, clock, coming, onAgain, onDone, onHandedOver }: Props) {
  const [rating, setRating] = useState<number | null>(null);
  const [note, setNote] = useState("");
  const [busy, setBusy] = useState(false);
  const [refused, setRefused] = useState<string>();
  const [kept, setKept] = useState(false);
  // A device's clock may be put back meanwhile: nothing ends before it begins.
  const [endedAt] = useState(
    () =>
      [new Date(clock.now()).toISOString(), progress.startedAt ?? "", ...progress.frames.map((one) => one.started_at)]
        .sort()
        .at(-1) as string,
  );
  const done = new Set(progress.frames.filter((one) => one.status === "done").map((one) => one.number)).size;
  const faults = [...new Set(progress.frames.flatMap((one) => (one.fault ? [one.fault] : [])))];
  const write = async () => {
    setBusy(true);
    setRefused(undefined);
    const said = [...(progress.instead ? [`On the spot: ${progress.instead.words}`] : []), ...progress.tried, note];
    const body = {
      sequence_id: sequence.id,
      // A device's clock may be put back meanwhile: nobody arrives after the first frame.
      arrived_at: progress.arrivedAt && progress.startedAt && progress.arrivedAt <= progress.startedAt ? progress.arrivedAt : null,
      started_at: progress.startedAt ?? endedAt,
      ended_at: endedAt,
      frames: progress.frames,
      faults,
      rating,
      note: said.filter(Boolean).join("\n").slice(0, MOST_NOTE),
    };
    try {
      await waitToSend({ id: progress.takeId, kind: "take", name: sequence.plan.composition_name, body });
      const outcome = await sendWaiting();
      const no = outcome.refused.find((one) => one.id === progress.takeId);
      if (no) setRefused(no.why);
      else if (outcome.sent.some((one) => one.id === progress.takeId)) onDone();
      else setKept(true);
    } catch {
      setRefused("This browser could not keep the take: its storage is full or shut off. Leave this page open and make room.");
    } finally {
      setBusy(false);
    }
  };
  return (
    <Flex direction="column" flex="1" mt="18px" gap="3">
      <chakra.h1 fontSize="27px" fontWeight="700">
        Sequence done
      </chakra.h1>
      <Box>
        {done} of {sequence.plan.sequence.frames.length} frames taken{faults.length > 0 ? `; noted: ${faults.join(", ")}` : ""}.
      </Box>
      <Box>
        <Box fontSize="13px" color="muted" mb="1">
          How good does it look?
        </Box>
        <Rating rating={rating} onRate={setRating} big />
      </Box>
      <TextField long label="note" value={note} onCommit={setNote} placeholder="Wind, light, what to try next time" />
      {refused ? (
        <Box role="alert" color="rust">
          {refused}
        </Box>
      ) : null}
      {kept ? (
        <Box role="status" borderLeftWidth="4px" borderColor="slate" pl="10px">
          <b>Kept on this device.</b> There is no connection; the take is sent by itself when it is back and a page of Lucid Ridge
          is open. What waits stands under{" "}
          <chakra.button type="button" textDecoration="underline" minH="48px" onClick={onHandedOver}>
            On board
          </chakra.button>
          .
        </Box>
      ) : null}
      <Box flex="1" />
      {coming ? (
        <Box role="status" borderLeftWidth="4px" borderColor="slate" pl="10px">
          {coming}
        </Box>
      ) : null}
      <Button variant="solid" size="xl" onClick={() => void write()} loading={busy} disabled={coming !== undefined}>
        {kept ? "Try to send it now" : "Write the take"}
      </Button>
      <Button size="lg" onClick={onAgain}>
        Repeat the last frame
      </Button>
    </Flex>
  );
}
