import { Box, chakra, Popover, Portal } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { Link } from "react-router";

import { NOTE } from "../shell/note";
import { WORDS } from "./glossary";

/** One of the product's own words: hovered it says what it means, pressed it says so beside a way to all of them. */
export function Word({ of, children }: { of: string; children: ReactNode }) {
  const means = WORDS.find(({ word }) => word === of)?.means;
  if (!means) return <>{children}</>;
  return (
    <Popover.Root positioning={{ placement: "bottom-start" }} lazyMount>
      <Popover.Trigger asChild>
        <chakra.button
          type="button"
          title={means}
          cursor="help"
          textAlign="left"
          font="inherit"
          color="inherit"
          borderBottomWidth="1px"
          borderBottomStyle="dotted"
          borderColor="muted"
        >
          {children}
        </chakra.button>
      </Popover.Trigger>
      <Portal>
        <Popover.Positioner>
          <Popover.Content {...NOTE} p="3" maxW="320px" fontSize="13.5px" fontWeight="400" aria-label={of}>
            <Box>
              <b>{of}</b>: {means}.
            </Box>
            <Box mt="1">
              <Link to="/words" style={{ textDecoration: "underline" }}>
                All our words
              </Link>
            </Box>
          </Popover.Content>
        </Popover.Positioner>
      </Portal>
    </Popover.Root>
  );
}
