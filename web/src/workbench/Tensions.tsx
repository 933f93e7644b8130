import { Box, Button, Flex } from "@chakra-ui/react";

import { Fig, useBench } from "./context";

/** Wants that the present settings break, each with the change that mends it. */
export function Tensions() {
  const { state, store, select } = useBench();
  const found = state.evaluation?.tensions ?? [];
  return (
    <Box as="section" aria-label="Tensions" flexShrink="0" maxH="27%" overflowY="auto" pt="2" tabIndex={0} data-testid="tensions">
      <Box fontSize="12.5px" fontWeight="700" color="muted" mb="1" aria-live="polite">
        {found.length === 0 ? "No tensions: these settings give what you asked for." : `Tensions: ${found.length}`}
      </Box>
      {found.map((tension, i) => (
        <Flex
          key={`${tension.kind}${tension.element_id ?? ""}`}
          bg="panel"
          borderLeftWidth="4px"
          borderLeftStyle={tension.severity === "spoils" ? "solid" : "double"}
          borderColor={tension.severity === "spoils" ? "rust" : "slate"}
          mb="6px"
          px="3"
          py="6px"
          gap="3"
          align="center"
          data-testid={`tension-${tension.kind}`}
        >
          <Box flex="1" fontSize="13.5px" onMouseEnter={() => tension.element_id && select(tension.element_id)}>
            <b>{tension.title}:</b> {tension.sentence}
            {tension.mend ? null : (
              <Box as="span" color="muted">
                {" "}
                {tension.why_no_mend}
              </Box>
            )}
            {tension.mend?.clicks ? (
              <Box fontSize="12px" color="muted" data-testid="mend-clicks">
                On the dials: {tension.mend.clicks}.
              </Box>
            ) : null}
            {tension.brings.length > 0 || tension.against.length > 0 ? (
              <Box fontSize="12px" color="muted" data-testid="mend-costs">
                {tension.brings.length > 0 ? `The mend brings: ${tension.brings.join("; ")}. ` : ""}
                {tension.against.length > 0 ? `It pulls against “${tension.against.join("”, “")}”.` : ""}
              </Box>
            ) : null}
          </Box>
          <Box fontSize="13px" color="muted" whiteSpace="nowrap">
            <Fig figure={tension.figure} />
          </Box>
          {tension.mend ? (
            <Button
              variant="outline"
              onClick={() => tension.mend && store.act(`mend ${tension.kind}`, ...tension.mend.changes)}
              title={i === 0 ? "Key M" : undefined}
            >
              {tension.mend.label}
            </Button>
          ) : null}
        </Flex>
      ))}
    </Box>
  );
}
