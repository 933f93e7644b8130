import { Box, Button, Flex } from "@chakra-ui/react";
import { useState } from "react";

import type { BenchName } from "./benchNames";
import { keep, readKept } from "../shell/kept";

const KEY = "lucid-ridge/benches-known";

/** What each bench answers, in one sentence. */
const ANSWERS: Record<BenchName, string> = {
  frame: "Frame answers: where to stand, how high, which way, and what falls where in the picture.",
  light: "Light answers: where the light comes from on this view, when it really arrives, and when it comes again.",
  depth: "Depth answers: what is sharp and what is not, where to focus, and how many slices it takes.",
  exposure: "Exposure answers: how long the shutter stays open, where every stop went, and whether both ends of the range hold.",
  ways: "Ways answers: which techniques give all that you want with the kit you own, and what each gives up.",
  sequence: "Sequence answers: which frames to take in which order, and how long that takes.",
};

function known(): string[] {
  return (readKept(KEY) ?? "").split(" ").filter(Boolean);
}

/** On the first visit to a bench, one sentence on what it answers, until it is dismissed. */
export function BenchIntro({ bench }: { bench: BenchName }) {
  const [seen, setSeen] = useState(known);
  if (seen.includes(bench)) return null;
  const dismiss = () => {
    const next = [...known(), bench];
    keep(KEY, next.join(" "));
    setSeen(next);
  };
  return (
    <Flex
      align="center"
      gap="3"
      mb="8px"
      px="3"
      py="4px"
      bg="mossFaint"
      fontSize="13.5px"
      data-testid="bench-intro"
      css={{ "@media (max-height: 480px)": { display: "none" } }}
    >
      <Box flex="1">{ANSWERS[bench]}</Box>
      <Button variant="ghost" onClick={dismiss}>
        Got it
      </Button>
    </Flex>
  );
}
