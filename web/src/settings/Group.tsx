import { Box, chakra, Flex } from "@chakra-ui/react";
import type { ReactNode } from "react";

/** What belongs together on the settings page. */
export function Group({ title, about, children }: { title: string; about: ReactNode; children: ReactNode }) {
  return (
    <Box as="section" aria-label={title} bg="panel" borderWidth="1px" borderColor="line" p="4">
      <chakra.h2 fontSize="17px" fontWeight="700">
        {title}
      </chakra.h2>
      <Box color="muted" fontSize="13.5px" mb="3">
        {about}
      </Box>
      <Flex direction="column" gap="3" align="start">
        {children}
      </Flex>
    </Box>
  );
}
