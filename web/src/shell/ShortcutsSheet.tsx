import { Box, Kbd } from "@chakra-ui/react";

import { Sheet } from "./Sheet";

export type Shortcut = readonly [keys: readonly string[], what: string];

/** What each key does, behind "?". */
export function ShortcutsSheet({
  open,
  onClose,
  groups,
}: {
  open: boolean;
  onClose: () => void;
  groups: readonly (readonly [string, readonly Shortcut[]])[];
}) {
  return (
    <Sheet title="Keys" open={open} onClose={onClose} wide>
      <Box display="grid" gridTemplateColumns={{ md: "1fr 1fr" }} gap="5">
        {groups.map(([title, rows]) => (
          <Box key={title}>
            <Box fontWeight="700" mb="1">
              {title}
            </Box>
            {rows.map(([keys, what]) => (
              <Box key={what} display="flex" gap="2" py="3px" fontSize="13.5px" borderBottomWidth="1px" borderColor="line">
                <Box w="112px" flexShrink="0">
                  {keys.map((key) => (
                    <Kbd
                      key={key}
                      mr="1"
                      bg="ground"
                      color="ink"
                      borderColor="line"
                      borderWidth="1px"
                      boxShadow="none"
                      fontFamily="mono"
                    >
                      {key}
                    </Kbd>
                  ))}
                </Box>
                {what}
              </Box>
            ))}
          </Box>
        ))}
      </Box>
    </Sheet>
  );
}
