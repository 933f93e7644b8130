import { Box, Button } from "@chakra-ui/react";
import type { ReactNode } from "react";

import type { Sensed } from "./senses";

/** What a device senses: leave is asked for where it is needed, and what it will not tell is said with the other way. */
export function Sensing<T>({
  sensed,
  ask,
  what,
  children,
}: {
  sensed: Sensed<T> | undefined;
  ask: () => void;
  what: string;
  children: (value: T) => ReactNode;
}) {
  if (sensed?.state === "there") return <>{children(sensed.value)}</>;
  return (
    <>
      <Button
        h="52px"
        w="100%"
        variant="outline"
        onClick={ask}
        loading={sensed?.state === "asking"}
        loadingText="Asking this device …"
      >
        {what}
      </Button>
      {sensed?.state === "trouble" ? (
        <Box role="alert" color="rust" mt="2">
          {sensed.words}
        </Box>
      ) : null}
    </>
  );
}

/** A number that a device senses, large, with how sure it is. */
export function Live({ value, note }: { value: string; note: string }) {
  return (
    <Box textAlign="center" my="2">
      <Box fontFamily="mono" fontSize="30px" fontWeight="700" lineHeight="1.2">
        {value}
      </Box>
      <Box fontSize="14px" color="muted">
        {note}
      </Box>
    </Box>
  );
}
