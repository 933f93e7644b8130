import { Box, Button, Flex } from "@chakra-ui/react";
import { useCallback, useMemo, useRef } from "react";

import type { Evaluation } from "../api/types";
import { PlanFromAbove } from "../instruments/PlanFromAbove";
import { SideSection } from "../instruments/SideSection";
import { View, type ViewHands } from "../instruments/View";
import { Segments } from "../shell/fields";
import { useBench } from "./context";
import type { Panes } from "./panes";
import { PointedSheet } from "./PointedSheet";
import { Look } from "../rehearsal/Look";
import { Splitter } from "./Splitter";
import type { usePlanHands } from "./usePlanHands";

export const LARGE = ["view", "look", "plan", "section"] as const;
export type Large = (typeof LARGE)[number];
const NAMED = [
  ["view", "View"],
  ["look", "As it will look"],
  ["plan", "From above"],
  ["section", "From the side"],
] as const;

export type Point = readonly [number, number];
/** Places a little beyond the frame may be meant too. */
const held = (share: number) => Math.min(Math.max(share, -0.9), 1.9);

interface PicturesProps {
  made: Evaluation;
  large: Large;
  enlarge: (which: Large) => void;
  hands: ReturnType<typeof usePlanHands>;
  /** Where the view was pressed to put something in. */
  pointed: Point | null;
  setPointed: (at: Point | null) => void;
  /** One at a time, chosen above it. */
  pocket?: boolean;
  panes: Panes;
  putPanes: (part: Partial<Panes>) => void;
}

/** View, plan and side section: one large, the others below it. */
export function Pictures({ made, large, enlarge, hands, pointed, setPointed, pocket = false, panes, putPanes }: PicturesProps) {
  const { store, selected, select } = useBench();
  const setHeight = useCallback((camera_height_m: number) => store.act("height", { kind: "height", camera_height_m }), [store]);
  const viewHands = useMemo<ViewHands>(
    () => ({
      press: (x, y) => setPointed([x, y]),
      shape: (element_id, part, x, y) =>
        store.act(`shape ${element_id} ${part}`, { kind: "shape_element", element_id, part, x: held(x), y: held(y) }),
    }),
    [store, setPointed],
  );
  const empty = made.framing.elements.length === 0;
  const offer = (
    <>
      {empty && large === "view" ? (
        <Flex position="absolute" inset="0" align="center" justify="center" direction="column" gap="2" pointerEvents="none">
          <Button variant="solid" size="md" pointerEvents="auto" onClick={() => setPointed([0.5, 0.75])}>
            Put in the first thing
          </Button>
          <Box fontSize="13px" bg="panel" px="2">
            or double-press the view where it stands
          </Box>
        </Flex>
      ) : null}
      {pointed ? <PointedSheet x={pointed[0]} y={pointed[1]} onClose={() => setPointed(null)} /> : null}
    </>
  );
  const picture = (which: Large, isLarge: boolean) => {
    if (which === "look") return <Look small={!isLarge} />;
    if (which === "view")
      return (
        <View
          framing={made.framing}
          selected={selected}
          onSelect={select}
          small={!isLarge}
          hands={isLarge ? viewHands : undefined}
        />
      );
    if (which === "plan") return <PlanFromAbove plan={made.plan} hands={hands} selected={selected} large={isLarge} />;
    return <SideSection section={made.section} onHeight={setHeight} large={isLarge} />;
  };
  const column = useRef<HTMLDivElement>(null);
  if (pocket)
    return (
      <>
        <Box flex="1" minH="0" overflow="hidden" position="relative">
          {picture(large, true)}
          {offer}
        </Box>
        <Flex justify="center" flexShrink="0">
          <Segments label="Picture" value={large} options={NAMED} onCommit={enlarge} />
        </Flex>
      </>
    );
  return (
    <Flex ref={column} direction="column" flex="1" minH="0" gap="10px">
      <Box
        flex="1"
        minH="0"
        position="relative"
        {...(large === "view" ? {} : { borderWidth: "1px", borderColor: "line", overflow: "hidden" })}
      >
        {picture(large, true)}
        {offer}
      </Box>
      <Splitter part="below" label="Height of the small pictures" panes={panes} putPanes={putPanes} within={column} />
      <Flex h={`${panes.below * 100}%`} flexShrink="0" gap="8px">
        {LARGE.filter((one) => one !== large && (one !== "look" || large !== "view")).map((one) => (
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
    </Flex>
  );
}
