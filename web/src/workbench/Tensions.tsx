import { Box, Button, chakra, Flex } from "@chakra-ui/react";

import type { Tension } from "../api/types";
import { Fig, useBench } from "./context";

function Line({ tension, first }: { tension: Tension; first: boolean }) {
  const { store, select } = useBench();
  const spoils = tension.severity === "spoils";
  return (
    <Flex
      bg="panel"
      borderLeftWidth="4px"
      borderLeftStyle={spoils ? "solid" : "double"}
      borderColor={spoils ? "rust" : "slate"}
      mb="6px"
      px="3"
      py="6px"
      columnGap="3"
      rowGap="1"
      align="center"
      wrap={{ base: "wrap", md: "nowrap" }}
      data-testid={`tension-${tension.kind}`}
    >
      <Box flex="1" minW="12rem" fontSize="13.5px" onMouseEnter={() => tension.element_id && select(tension.element_id)}>
        <b>{tension.title}:</b> {tension.sentence}
        {tension.mend ? null : (
          <Box as="span" color="muted">
            {" "}
            {tension.why_no_mend}
          </Box>
        )}
        {tension.mend?.clicks ? (
          <Box fontSize="12px" color="muted" data-testid="mend-clicks">
            On the dials: {tension.mend.clicks}.
          </Box>
        ) : null}
        {tension.brings.length > 0 || tension.against.length > 0 ? (
          <Box fontSize="12px" color="muted" data-testid="mend-costs">
            {tension.brings.length > 0 ? `The mend brings: ${tension.brings.join("; ")}. ` : ""}
            {tension.against.length > 0 ? `It pulls against “${tension.against.join("”, “")}”.` : ""}
          </Box>
        ) : null}
      </Box>
      <Box fontSize="13px" color="muted" whiteSpace="nowrap">
        <Fig figure={tension.figure} />
      </Box>
      {tension.mend ? (
        <Button
          variant="outline"
          onClick={() => tension.mend && store.act(`mend ${tension.kind}`, ...tension.mend.changes)}
          title={first ? "Key M" : undefined}
        >
          {tension.mend.label}
        </Button>
      ) : null}
    </Flex>
  );
}

/** Wants that the present settings break, each with the change that mends it; folded, the first of them. */
export function Tensions({ open, onOpen }: { open: boolean; onOpen: (open: boolean) => void }) {
  const { state } = useBench();
  const found = state.evaluation?.tensions ?? [];
  const shown = open ? found : found.slice(0, 1);
  return (
    <Box
      as="section"
      aria-label="Tensions"
      flexShrink="0"
      maxH={open ? "45%" : "40%"}
      overflowY="auto"
      pt="2"
      tabIndex={0}
      data-testid="tensions"
    >
      <Flex fontSize="12.5px" fontWeight="700" color="muted" mb="1" align="center" gap="3">
        <Box aria-live="polite" flex="1">
          {found.length === 0 ? "No tensions: these settings give what you asked for." : `Tensions: ${found.length}`}
        </Box>
        {found.length > 1 ? (
          <chakra.button
            type="button"
            aria-expanded={open}
            cursor="pointer"
            textDecoration="underline"
            minH="24px"
            px="2"
            color="ink"
            onClick={() => onOpen(!open)}
          >
            {open ? "only the first" : `${found.length - 1} more`}
          </chakra.button>
        ) : null}
      </Flex>
      {shown.map((tension, i) => (
        <Line key={`${tension.kind}${tension.element_id ?? ""}`} tension={tension} first={i === 0} />
      ))}
    </Box>
  );
}
