import { Box, Button, Flex } from "@chakra-ui/react";

import type { Evaluation } from "../../../api/types";
import { Fig, useBench } from "../../context";
import { Part } from "../parts";
import { AnswerCard } from "./AnswerCard";
import { useWish } from "./useWish";

type Merger = Evaluation["separation"][number];

/** What is not clear of something else in the frame, and the height or the step that would part it. */
export function Separation({ meetings }: { meetings: Merger[] }) {
  return (
    <Part
      title={
        meetings.length === 0
          ? "Separation: the subject and what stands in front are clear of everything"
          : `Separation: ${meetings.length} to look at`
      }
    >
      {meetings.map((meeting) => (
        <Row key={`${meeting.kind}${meeting.element_id}${meeting.other_id ?? ""}`} meeting={meeting} />
      ))}
    </Part>
  );
}

function Row({ meeting }: { meeting: Merger }) {
  const { select } = useBench();
  const { answer, trouble, asking, wish, clear } = useWish();
  const other = meeting.other_id;
  const part = (by: "height" | "sideways") =>
    other && void wish({ kind: "part", element_id: meeting.element_id, other_id: other, by });
  return (
    <Box
      borderTopWidth="1px"
      borderColor="line"
      onMouseEnter={() => select(meeting.element_id)}
      data-testid={`meeting-${meeting.kind}`}
    >
      <Flex gap="3" align="center" py="5px">
        <Box flex="1" fontSize="13.5px">
          {meeting.sentence}
          {trouble ? (
            <Box role="alert" color="rust">
              {trouble}
            </Box>
          ) : null}
        </Box>
        <Box fontSize="13px" color="muted" whiteSpace="nowrap">
          <Fig figure={meeting.gap} />
          {meeting.angle ? (
            <>
              {" "}
              <Fig figure={meeting.angle} />
            </>
          ) : null}
        </Box>
        {other ? (
          <>
            <Button loading={asking} onClick={() => part("height")}>
              Find a height
            </Button>
            <Button loading={asking} onClick={() => part("sideways")}>
              Find a step
            </Button>
          </>
        ) : null}
      </Flex>
      {answer ? <AnswerCard answer={answer} onApplied={clear} /> : null}
    </Box>
  );
}
