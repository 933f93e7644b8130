import { Box, Button, Flex } from "@chakra-ui/react";
import { useCallback } from "react";

import type { Evaluation } from "../api/types";
import { PlanFromAbove } from "../instruments/PlanFromAbove";
import { SideSection } from "../instruments/SideSection";
import { View } from "../instruments/View";
import { useBench } from "./context";
import type { usePlanHands } from "./usePlanHands";

export const LARGE = ["view", "plan", "section"] as const;
export type Large = (typeof LARGE)[number];

interface PicturesProps {
  made: Evaluation;
  large: Large;
  enlarge: (which: Large) => void;
  hands: ReturnType<typeof usePlanHands>;
}

/** View, plan and side section: one large, the others below it. */
export function Pictures({ made, large, enlarge, hands }: PicturesProps) {
  const { store, selected, select } = useBench();
  const setHeight = useCallback((camera_height_m: number) => store.act("height", { kind: "height", camera_height_m }), [store]);
  const picture = (which: Large, isLarge: boolean) => {
    if (which === "view") return <View framing={made.framing} selected={selected} onSelect={select} small={!isLarge} />;
    if (which === "plan") return <PlanFromAbove plan={made.plan} hands={hands} selected={selected} large={isLarge} />;
    return <SideSection section={made.section} onHeight={setHeight} large={isLarge} />;
  };
  return (
    <>
      <Box flex="1" minH="0" {...(large === "view" ? {} : { borderWidth: "1px", borderColor: "line", overflow: "hidden" })}>
        {picture(large, true)}
      </Box>
      <Flex h="136px" flexShrink="0" gap="8px">
        {LARGE.filter((one) => one !== large).map((one) => (
          <Box
            key={one}
            flex="1"
            minW="0"
            position="relative"
            borderWidth={one === "view" ? "0" : "1px"}
            borderColor="line"
            overflow="hidden"
          >
            {picture(one, false)}
            <Button
              position="absolute"
              right="3px"
              bottom="3px"
              h="24px"
              w="24px"
              px="0"
              opacity="0.9"
              onClick={() => enlarge(one)}
              aria-label={`Enlarge the ${one}`}
              title={`Enlarge the ${one} (P)`}
            >
              <svg
                width="12"
                height="12"
                viewBox="0 0 12 12"
                aria-hidden="true"
                fill="none"
                stroke="currentColor"
                strokeWidth="1.400"
              >
                <path d="M7 1H11V5M11 1L7 5M5 11H1V7M1 11L5 7" />
              </svg>
            </Button>
          </Box>
        ))}
      </Flex>
    </>
  );
}
