import { Box, Flex } from "@chakra-ui/react";

/** A setting in large letters; what is to be set anew is marked. */
export function Row({ name, value, changed = false, note }: { name: string; value: string; changed?: boolean; note?: string }) {
  return (
    <Flex
      justify="space-between"
      align="center"
      px="14px"
      minH="50px"
      borderTopWidth="1px"
      borderColor="line"
      _first={{ borderTopWidth: 0 }}
      color={changed ? "ink" : "muted"}
      fontWeight={changed ? "700" : "400"}
    >
      <Box fontSize="15px" flexShrink="0" mr="3">
        {name}
        {note ? (
          <Box as="span" fontSize="12px" ml="2">
            {note}
          </Box>
        ) : null}
      </Box>
      <Box fontFamily="mono" fontSize={value.length > 18 ? "16px" : "20px"} textAlign="right" css={{ overflowWrap: "anywhere" }}>
        {value}{" "}
        {changed ? (
          <span role="img" aria-label="changed">
            ◆
          </span>
        ) : null}
      </Box>
    </Flex>
  );
}
