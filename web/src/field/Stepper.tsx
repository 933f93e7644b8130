import { Box, Button, Flex } from "@chakra-ui/react";

/** A value between two buttons for a thumb: the row before and the row after. */
export function Stepper({
  label,
  value,
  note = "",
  less,
  more,
  onLess,
  onMore,
}: {
  label: string;
  value: string;
  note?: string;
  less: string;
  more: string;
  onLess: (() => void) | undefined;
  onMore: (() => void) | undefined;
}) {
  return (
    <Box py="6px" role="group" aria-label={label}>
      <Flex fontSize="13px" color="muted" justify="space-between">
        <Box as="span">{label}</Box>
        <Box as="span">{note}</Box>
      </Flex>
      <Flex align="center" gap="10px">
        <Button h="52px" w="88px" onClick={onLess} disabled={!onLess}>
          {less}
        </Button>
        <Box flex="1" textAlign="center" fontFamily="mono" fontSize="24px" fontWeight="700" aria-live="polite">
          {value}
        </Box>
        <Button h="52px" w="88px" onClick={onMore} disabled={!onMore}>
          {more}
        </Button>
      </Flex>
    </Box>
  );
}
