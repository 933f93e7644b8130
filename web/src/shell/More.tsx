import { Box, chakra, Flex } from "@chakra-ui/react";
import type { ReactNode } from "react";

/** What is asked only of those who want to say it, folded away; open where something in it is at fault. */
export function More({ title, open, children }: { title: string; open?: boolean; children: ReactNode }) {
  return (
    <chakra.details open={open} borderTopWidth="1px" borderColor="line" pt="2">
      <chakra.summary cursor="pointer" fontWeight="600" fontSize="13.5px" py="1">
        {title}
      </chakra.summary>
      <Box pt="2">
        <Flex direction="column" gap="3">
          {children}
        </Flex>
      </Box>
    </chakra.details>
  );
}
