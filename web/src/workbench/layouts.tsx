import { Box, Flex } from "@chakra-ui/react";
import { type ReactNode, useRef } from "react";

import type { Panes } from "./panes";
import { Splitter } from "./Splitter";

interface Parts {
  panes: Panes;
  putPanes: (part: Partial<Panes>) => void;
  bar: ReactNode;
  rail: ReactNode;
  alerts: ReactNode;
  pictures: ReactNode;
  tabs: ReactNode;
  bench: ReactNode;
  tensions: ReactNode;
  ribbon: ReactNode;
}

/** At the desk: pictures and bench side by side, the day along the bottom. */
export function DeskLayout({ panes, putPanes, bar, rail, alerts, pictures, tabs, bench, tensions, ribbon }: Parts) {
  const main = useRef<HTMLDivElement>(null);
  const right = useRef<HTMLDivElement>(null);
  return (
    <Flex direction="column" h="100dvh" overflow="hidden">
      {bar}
      {rail}
      {alerts}
      <Flex as="main" ref={main} flex="1" minH="0">
        <Flex direction="column" w={`${panes.left * 100}%`} flexShrink="0" p="10px 16px" gap="10px" minH="0">
          {pictures}
        </Flex>
        <Splitter part="left" label="Width of the pictures" panes={panes} putPanes={putPanes} within={main} />
        <Flex direction="column" flex="1" minW="0" px="16px" pb="8px" minH="0" ref={right}>
          {tabs}
          {bench}
          {panes.tensionsOpen ? (
            <Splitter part="tensions" label="Height of the tensions" panes={panes} putPanes={putPanes} within={right} />
          ) : null}
          {tensions}
        </Flex>
      </Flex>
      <Box flexShrink="0" borderTopWidth="1px" borderColor="line" bg="panel" px="16px">
        {ribbon}
      </Box>
    </Flex>
  );
}

/** A phone on its side is too low for a bench that moves by itself: the whole side moves, its tabs stay. */
const LOW = {
  "@media (orientation: landscape)": {
    display: "block",
    overflowY: "auto",
    "& #bench": { overflowY: "visible" },
    "& .lr-tabs": { position: "sticky", top: 0, zIndex: 3 },
  },
} as const;

/** In the pocket: the view on top, the settings under the thumb, one bench at a time, the day at the bottom. */
export function PocketLayout({ bar, rail, alerts, pictures, tabs, bench, tensions, ribbon }: Parts) {
  return (
    <Box
      h="100dvh"
      overflow="hidden"
      display="grid"
      css={{
        "@media (orientation: portrait)": {
          gridTemplateColumns: "minmax(0, 1fr)",
          gridTemplateRows: "auto minmax(0, 26%) auto auto minmax(0, 1fr) auto",
          gridTemplateAreas: '"bar" "view" "rail" "alerts" "bench" "day"',
        },
        "@media (orientation: landscape)": {
          gridTemplateColumns: "minmax(0, 46%) minmax(0, 1fr)",
          gridTemplateRows: "auto auto minmax(0, 1fr) auto",
          gridTemplateAreas: '"bar bar" "view alerts" "view bench" "rail day"',
        },
      }}
    >
      <Box gridArea="bar" minW="0">
        {bar}
      </Box>
      <Flex gridArea="view" direction="column" minH="0" p="4px 6px" gap="4px">
        {pictures}
      </Flex>
      <Box gridArea="rail" minW="0">
        {rail}
      </Box>
      <Box gridArea="alerts" minW="0">
        {alerts}
      </Box>
      <Flex as="main" gridArea="bench" direction="column" minH="0" minW="0" px="10px" css={LOW}>
        {tensions}
        <Box overflowX="auto" flexShrink="0" bg="ground" className="lr-tabs">
          {tabs}
        </Box>
        {bench}
      </Flex>
      <Box gridArea="day" bg="panel" borderTopWidth="1px" borderColor="line" px="10px" minW="0">
        {ribbon}
      </Box>
    </Box>
  );
}
