import { Box, chakra, Flex } from "@chakra-ui/react";
import type { ReactNode } from "react";

import { Mark } from "../shell/TopBar";
import { ThemeButton } from "../theme/ThemeChoice";

/** The page in front of the others: for whoever is not signed in. */
export function DoorPage({ title, intro, children }: { title: string; intro: ReactNode; children?: ReactNode }) {
  return (
    <Flex direction="column" minH="100dvh">
      <Flex as="header" h="48px" px="4" align="center" justify="space-between" borderBottomWidth="1px" borderColor="line">
        <Flex gap="2" align="center" fontWeight="700">
          <Mark />
          Lucid Ridge
        </Flex>
        <ThemeButton />
      </Flex>
      <Box as="main" w="100%" maxW="26rem" mx="auto" px="4" pt={{ base: "8", md: "16" }} pb="8">
        <chakra.h1 fontSize="26px" fontWeight="700" mb="2">
          {title}
        </chakra.h1>
        <Box color="muted" mb="6">
          {intro}
        </Box>
        {children}
      </Box>
    </Flex>
  );
}
