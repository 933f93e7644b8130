import { Box, Button, Flex } from "@chakra-ui/react";
import { useState } from "react";

import { api, ask, problemOf } from "../../api/client";
import type { Evaluation, HeightAnswer } from "../../api/types";
import { Fig, useBench } from "../context";
import { Part } from "./parts";

type Meeting = Evaluation["separation"][number];

/** What is not clear of something else in the frame, and the camera height that would part it. */
export function Separation({ meetings }: { meetings: Meeting[] }) {
  return (
    <Part title={meetings.length === 0 ? "Separation: the subject and what stands in front are clear of everything" : `Separation: ${meetings.length} to look at`}>
      {meetings.map((meeting) => (
        <Row key={`${meeting.kind}${meeting.element_id}${meeting.other_id ?? ""}`} meeting={meeting} />
      ))}
    </Part>
  );
}

function Row({ meeting }: { meeting: Meeting }) {
  const { store, select } = useBench();
  const [answer, setAnswer] = useState<HeightAnswer | string>();
  const other = meeting.other_id;
  const find = async () => {
    const scene = store.scene;
    if (!scene || !other) return;
    try {
      setAnswer((await ask(api.POST("/api/part", { body: { scene, changes: [], element_id: meeting.element_id, other_id: other } }))) as HeightAnswer);
    } catch (error) {
      setAnswer(problemOf(error).detail);
    }
  };
  const change = typeof answer === "object" ? answer.change : null;
  return (
    <Flex gap="3" align="center" py="5px" borderTopWidth="1px" borderColor="line" onMouseEnter={() => select(meeting.element_id)} data-testid={`meeting-${meeting.kind}`}>
      <Box flex="1" fontSize="13.5px">
        {meeting.sentence}
        {answer ? (
          <Box as="span" color="muted" role="status">
            {" "}
            {typeof answer === "string" ? answer : answer.gives || answer.why_not}
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
      {change && typeof answer === "object" ? (
        <Button variant="outline" onClick={() => store.act("height", change)}>
          {answer.label}
        </Button>
      ) : other && !answer ? (
        <Button onClick={() => void find()}>Find a height</Button>
      ) : null}
    </Flex>
  );
}
