import { Box, chakra, Flex } from "@chakra-ui/react";
import type { ReactNode, Ref } from "react";

import type { Readout } from "../../api/types";
import { Fig } from "../context";
import { Word } from "../../words/Word";

/** A part of a bench; *word* is the one of our words that its title stands for. */
export function Part({
  title,
  word,
  side,
  headRef,
  children,
}: {
  title?: string;
  word?: string;
  side?: ReactNode;
  /** Its head, to bring it into sight. */
  headRef?: Ref<HTMLDivElement>;
  children: ReactNode;
}) {
  return (
    <Box as="section" bg="panel" borderWidth="1px" borderColor="line" px="3" py="2" mb="8px">
      {title ? (
        <Flex ref={headRef} align="center" columnGap="3" rowGap="1" mb="1" minH="28px" wrap="wrap">
          <Box as="h2" fontSize="13px" color="muted" fontWeight="600" flex="1 1 9rem">
            {word ? <Word of={word}>{title}</Word> : title}
          </Box>
          {side}
        </Flex>
      ) : null}
      {children}
    </Box>
  );
}

const TABLE = {
  borderCollapse: "collapse",
  "& th, & td": { padding: "4px 6px", textAlign: "right", whiteSpace: "nowrap", verticalAlign: "top" },
  "& th": { fontWeight: "500", color: "muted", fontSize: "12px" },
  "& th:first-of-type, & td:first-of-type, & .left": { textAlign: "left" },
  "& td.wrap, & th.wrap": { whiteSpace: "normal" },
  "& tbody tr": { borderTop: "1px solid {colors.line}" },
  "& tr.chosen": { background: "{colors.mossFaint}" },
  // What is quiet elsewhere must still be read on the darker ground of the chosen row.
  "& tr.chosen div, & tr.chosen div .lr-fig": { color: "ink" },
  "& .soft": { fontWeight: "700", color: "rust" },
  "& .good": { fontWeight: "700", color: "moss" },
  "& .note": { color: "muted" },
} as const;

/** A table of the benches. Its cells are plain, styled from here: many of them must be drawn quickly. */
export function Table({ children }: { children: ReactNode }) {
  return (
    <chakra.table w="100%" fontSize="13px" mt="1" css={TABLE}>
      {children}
    </chakra.table>
  );
}

/** Named figures side by side. */
export function Facts({ rows }: { rows: readonly (readonly [string, Readout | string])[] }) {
  return (
    <Box as="dl" display="grid" gridTemplateColumns="repeat(auto-fill, minmax(150px, 1fr))" columnGap="4" rowGap="2">
      {rows.map(([name, figure]) => (
        <Box key={name}>
          <Box as="dt" fontSize="12px" color="muted">
            {name}
          </Box>
          <Box as="dd" fontSize="15px">
            {typeof figure === "string" ? figure : <Fig figure={figure} />}
          </Box>
        </Box>
      ))}
    </Box>
  );
}

/** The head of a column of buttons: read out, not shown. */
export function QuietHead({ children }: { children: string }) {
  return (
    <th>
      <Box as="span" srOnly>
        {children}
      </Box>
    </th>
  );
}
