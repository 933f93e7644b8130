import { chakra, Flex } from "@chakra-ui/react";
import type { ReactNode } from "react";

/** Which of a row of tabs an arrow key, Home or End leads to from one; -1 for other keys. */
function neighbour(key: string, at: number, count: number) {
  if (key === "ArrowRight") return (at + 1) % count;
  if (key === "ArrowLeft") return (at + count - 1) % count;
  return key === "Home" ? 0 : key === "End" ? count - 1 : -1;
}

/** A row of tabs over one panel: by pointer, by arrow keys, Home and End. */
export function Tabs<Name extends string>({
  label,
  tabs,
  chosen,
  choose,
  panel,
  after,
}: {
  label: string;
  tabs: readonly (readonly [Name, string])[];
  chosen: Name;
  choose: (name: Name) => void;
  /** The id of what they change. */
  panel: string;
  after?: (at: number) => ReactNode;
}) {
  return (
    <Flex
      role="tablist"
      aria-label={label}
      borderBottomWidth="1px"
      borderColor="line"
      flexShrink="0"
      mb="8px"
      overflowX="auto"
      overflowY="hidden"
      css={{ scrollbarWidth: "none" }}
    >
      {tabs.map(([name, words], i) => (
        <chakra.button
          key={name}
          id={`tab-${name}`}
          type="button"
          role="tab"
          aria-selected={chosen === name}
          aria-controls={panel}
          tabIndex={chosen === name ? 0 : -1}
          onClick={() => choose(name)}
          onKeyDown={(event) => {
            const next = tabs[neighbour(event.key, i, tabs.length)];
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
          whiteSpace="nowrap"
          fontWeight={chosen === name ? "700" : "400"}
          borderBottomWidth="3px"
          borderColor={chosen === name ? "moss" : "transparent"}
          color={chosen === name ? "ink" : "muted"}
        >
          {words}
          {after?.(i)}
        </chakra.button>
      ))}
    </Flex>
  );
}
