import { Box, chakra, Flex } from "@chakra-ui/react";

import { type BenchName, BENCHES } from "./benchNames";

/** Which of a row of tabs an arrow key, Home or End leads to from one; -1 for other keys. */
function neighbour(key: string, at: number, count: number) {
  if (key === "ArrowRight") return (at + 1) % count;
  if (key === "ArrowLeft") return (at + count - 1) % count;
  return key === "Home" ? 0 : key === "End" ? count - 1 : -1;
}

/** The benches, as tabs: by pointer, by arrow keys, Home and End, or by their number anywhere. */
export function BenchTabs({ chosen, choose }: { chosen: BenchName; choose: (bench: BenchName) => void }) {
  return (
    <Flex role="tablist" aria-label="Benches" borderBottomWidth="1px" borderColor="line" flexShrink="0" mb="8px">
      {BENCHES.map(([name, label], i) => (
        <chakra.button
          key={name}
          id={`tab-${name}`}
          type="button"
          role="tab"
          aria-selected={chosen === name}
          aria-controls="bench"
          tabIndex={chosen === name ? 0 : -1}
          onClick={() => choose(name)}
          onKeyDown={(event) => {
            const next = BENCHES[neighbour(event.key, i, BENCHES.length)];
            if (!next) return;
            event.preventDefault();
            event.stopPropagation();
            choose(next[0]);
            document.getElementById(`tab-${next[0]}`)?.focus();
          }}
          px={{ base: "9px", md: "12px" }}
          flexShrink="0"
          h="38px"
          cursor="pointer"
          fontWeight={chosen === name ? "700" : "400"}
          borderBottomWidth="3px"
          borderColor={chosen === name ? "moss" : "transparent"}
          color={chosen === name ? "ink" : "muted"}
        >
          {label}{" "}
          <Box as="span" fontFamily="mono" fontSize="11px" hideBelow="md">
            {i + 1}
          </Box>
        </chakra.button>
      ))}
    </Flex>
  );
}
