import { Box, Button, chakra, Flex } from "@chakra-ui/react";

import type { Tension } from "../api/types";
import { Word } from "../words/Word";
import { Fig, useBench } from "./context";

function Mend({ tension, first }: { tension: Tension; first: boolean }) {
  const { store } = useBench();
  return (
    <Button
      variant="outline"
      flexShrink="0"
      onClick={() => tension.mend && store.act(`mend ${tension.kind}`, ...tension.mend.changes)}
      title={first ? "Key M" : undefined}
    >
      {tension.mend?.label}
    </Button>
  );
}

function Line({ tension, first }: { tension: Tension; first: boolean }) {
  const { select } = useBench();
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
      {tension.mend ? <Mend tension={tension} first={first} /> : null}
    </Flex>
  );
}

/** Wants that the present settings break, each with the change that mends it; folded, the first of them. */
export function Tensions({
  open,
  tallest,
  onOpen,
  pocket = false,
}: {
  open: boolean;
  /** The most of the bench's height that they take when they are open, 0 to 1. */
  tallest: number;
  onOpen: (open: boolean) => void;
  pocket?: boolean;
}) {
  const { state } = useBench();
  const found = state.evaluation?.tensions ?? [];
  const shown = open ? found : found.slice(0, 1);
  const first = found[0];
  const mended = found.filter((one) => one.mend).length;
  if (pocket && !open)
    return (
      <Flex as="section" aria-label="Tensions" align="center" gap="2" py="4px" flexShrink="0" minH="44px" data-testid="tensions">
        <chakra.button
          type="button"
          aria-expanded={false}
          flex="1"
          minW="0"
          minH="36px"
          textAlign="left"
          cursor="pointer"
          onClick={() => onOpen(true)}
          disabled={!first}
        >
          {first ? (
            <Box borderLeftWidth="4px" borderColor={first.severity === "spoils" ? "rust" : "slate"} pl="2" lineHeight="1.2">
              <Box fontSize="12px" color="muted">
                {found.length === 1 ? "one tension" : `${found.length} tensions`}
              </Box>
              <Box fontWeight="700" fontSize="13.5px" overflow="hidden" textOverflow="ellipsis" whiteSpace="nowrap">
                {first.title}
              </Box>
            </Box>
          ) : (
            <Box fontSize="13px" color="muted">
              No tensions
            </Box>
          )}
        </chakra.button>
        {first?.mend ? <Mend tension={first} first /> : null}
      </Flex>
    );
  return (
    <Box
      as="section"
      aria-label="Tensions"
      flexShrink="0"
      maxH={open ? (pocket ? "60%" : `${tallest * 100}%`) : "40%"}
      overflowY="auto"
      pt="2"
      tabIndex={0}
      data-testid="tensions"
    >
      <Flex fontSize="12.5px" fontWeight="700" color="muted" mb="1" align="center" gap="3">
        <Box aria-live="polite" flex="1">
          {found.length === 0 ? (
            "No tensions: these settings give what you asked for."
          ) : (
            <>
              <Word of="tension">Tensions</Word>: {found.length}
              {mended > 0 ? (
                <>
                  , {mended} with a <Word of="mend">mend</Word>
                </>
              ) : null}
            </>
          )}
        </Box>
        {found.length > 1 || pocket ? (
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
            {open ? (pocket ? "fold" : "only the first") : `${found.length - 1} more`}
          </chakra.button>
        ) : null}
      </Flex>
      {shown.map((tension, i) => (
        <Line key={`${tension.kind}${tension.element_id ?? ""}`} tension={tension} first={i === 0} />
      ))}
    </Box>
  );
}
