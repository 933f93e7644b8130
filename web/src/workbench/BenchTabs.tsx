import { Box } from "@chakra-ui/react";

import { Tabs } from "../shell/Tabs";
import { type BenchName, BENCHES } from "./benchNames";

/** The benches, as tabs: by pointer, by arrow keys, Home and End, or by their number anywhere. */
export function BenchTabs({ chosen, choose }: { chosen: BenchName; choose: (bench: BenchName) => void }) {
  return (
    <Tabs
      label="Benches"
      tabs={BENCHES}
      chosen={chosen}
      choose={choose}
      panel="bench"
      after={(i) => (
        <>
          {" "}
          <Box as="span" fontFamily="mono" fontSize="11px" hideBelow="md">
            {i + 1}
          </Box>
        </>
      )}
    />
  );
}
