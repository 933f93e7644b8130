import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { Link } from "react-router";

import { problemOf } from "../api/client";

/** Something is on its way. Shown only after a moment, so that quick answers do not flicker. */
export function Loading({ what }: { what: string }) {
  return (
    <Flex role="status" p="10" justify="center" color="muted" css={{ animation: "late 0.4s step-end" }}>
      Fetching {what} …
    </Flex>
  );
}

/** Nothing here yet, and the way forward. */
export function Empty({ title, children, action }: { title: string; children: ReactNode; action?: ReactNode }) {
  return (
    <Box borderWidth="1px" borderStyle="dashed" borderColor="muted" p="8" maxW="40rem">
      <Heading as="h2" size="md" mb="2">
        {title}
      </Heading>
      <Text color="muted" mb={action ? "4" : "0"}>
        {children}
      </Text>
      {action}
    </Box>
  );
}

/** What went wrong, in the server's words, and a way to try again. */
export function Trouble({ error, again }: { error: unknown; again?: () => void }) {
  const problem = problemOf(error);
  return (
    <Box role="alert" borderLeftWidth="4px" borderColor="rust" bg="panel" p="5" m="5" maxW="44rem">
      <Heading as="h2" size="md">
        {problem.title}
      </Heading>
      <Text color="muted" my="2">
        {problem.detail}
      </Text>
      {again ? <Button onClick={again}>Try again</Button> : null}
    </Box>
  );
}

export function NotHere() {
  return (
    <Box p="10">
      <Heading as="h1" size="lg">
        Nothing at this address
      </Heading>
      <Text my="3">The page may have moved, or what it showed was deleted.</Text>
      <Link to="/" style={{ textDecoration: "underline" }}>
        To the home page
      </Link>
    </Box>
  );
}
