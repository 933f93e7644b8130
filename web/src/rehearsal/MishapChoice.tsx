import { Box, Flex } from "@chakra-ui/react";
import { useState } from "react";

import type { Mishap, MishapOffered } from "../api/types";
import { ChoiceField, NumberField } from "../shell/fields";

const MOST = 1000;

interface Props {
  offered: readonly MishapOffered[];
  mishap: Mishap | null;
  count: number;
  onMishap: (mishap: Mishap | null) => void;
}

/** Put something wrong in, to see what it looks like. */
export function MishapChoice({ offered, mishap, count, onMishap }: Props) {
  const [wrong, setWrong] = useState<{ frame?: string | undefined; size?: string | undefined }>({});
  const chosen = offered.find((one) => one.kind === mishap?.kind);
  return (
    <Box>
      <Flex gap="3" align="start" wrap="wrap">
        <ChoiceField
          width="210px"
          label="Something goes wrong"
          value={mishap?.kind ?? ""}
          options={[["", "nothing"], ...offered.map((one) => [one.kind, one.name] as const)]}
          onCommit={(kind) => {
            const one = offered.find((each) => each.kind === kind);
            setWrong({});
            onMishap(one ? { kind: one.kind, size: one.size, frame: Math.min(2, count) } : null);
          }}
        />
        {mishap && count > 1 ? (
          <NumberField
            width="84px"
            label="frame"
            value={mishap.frame}
            error={wrong.frame}
            onCommit={(frame) => {
              const good = frame !== null && Number.isInteger(frame) && frame >= 1 && frame <= count;
              setWrong({ ...wrong, frame: good ? undefined : `1 to ${count}` });
              if (good) onMishap({ ...mishap, frame });
            }}
          />
        ) : null}
        {mishap && chosen?.unit ? (
          <NumberField
            width="126px"
            label="how much"
            unit={chosen.unit}
            value={mishap.size}
            error={wrong.size}
            onCommit={(size) => {
              const good = size !== null && size > 0 && size <= MOST;
              setWrong({ ...wrong, size: good ? undefined : `above 0, up to ${MOST}` });
              if (good) onMishap({ ...mishap, size });
            }}
          />
        ) : null}
      </Flex>
      {chosen ? (
        <Box fontSize="13px" mt="1">
          {chosen.meaning}
        </Box>
      ) : null}
    </Box>
  );
}
