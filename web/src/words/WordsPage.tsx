import { Box, chakra, Flex } from "@chakra-ui/react";
import { useState } from "react";

import { TextField } from "../shell/fields";
import { Page } from "../shell/TopBar";
import { WORDS } from "./glossary";

/** The few words that mean something narrower here than elsewhere. */
export default function WordsPage() {
  const [sought, seek] = useState("");
  const wanted = sought.trim().toLowerCase();
  const shown = WORDS.filter(({ word, means }) => `${word} ${means}`.toLowerCase().includes(wanted));
  return (
    <Page title="Words" intro="Terms of the trade mean what they always do. These few are ours, or mean something narrower here.">
      <TextField width="260px" label="find a word" value={sought} onCommit={seek} />
      <Box as="dl" mt="5" maxW="860px">
        {shown.map(({ word, means }) => (
          <Flex key={word} py="9px" borderTopWidth="1px" borderColor="line" columnGap="5" wrap={{ base: "wrap", md: "nowrap" }}>
            <chakra.dt fontWeight="700" w={{ base: "100%", md: "190px" }} flexShrink="0">
              {word}
            </chakra.dt>
            <chakra.dd>{means}</chakra.dd>
          </Flex>
        ))}
      </Box>
      {shown.length === 0 ? (
        <Box role="status" color="muted" mt="3">
          None of our words has “{sought}” in it; it means what it always does.
        </Box>
      ) : null}
    </Page>
  );
}
