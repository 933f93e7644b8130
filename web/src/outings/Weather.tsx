import { Box, Button, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { api, ask } from "../api/client";
import type { GoOrStay, Outing } from "../api/types";
import { Trouble } from "../shell/states";
import { useUnits } from "../shell/units";

/** Whether something is likely, as a shape: full, half, empty, a query. */
export function Likely({ verdict }: { verdict: GoOrStay["visits"][number]["verdict"] }) {
  const words = { yes: "likely", perhaps: "perhaps", no: "unlikely", unknown: "not forecast yet" }[verdict];
  return (
    <svg width="16" height="16" viewBox="0 0 16 16" role="img" aria-label={words} style={{ flexShrink: 0 }}>
      <rect
        x="1"
        y="3"
        width="14"
        height="10"
        fill="none"
        stroke="currentColor"
        strokeWidth="1.4"
        strokeDasharray={verdict === "unknown" ? "2 2" : undefined}
      />
      {verdict === "yes" ? <rect x="3" y="5" width="10" height="6" fill="currentColor" /> : null}
      {verdict === "perhaps" ? <rect x="3" y="5" width="5" height="6" fill="currentColor" /> : null}
      {verdict === "no" ? <path d="M1 13L15 3" stroke="currentColor" strokeWidth="1.4" /> : null}
    </svg>
  );
}

function Instead({ outing, onAdd }: { outing: Outing; onAdd: (compositionId: string) => void }) {
  const units = useUnits();
  const found = useQuery({
    queryKey: ["outing-instead", units, outing.days, outing.visits, outing.start],
    queryFn: async ({ signal }) => await ask(api.POST("/api/outings/instead", { body: { outing, units }, signal })),
    staleTime: 600_000,
  });
  if (found.isError) return <Trouble error={found.error} again={() => void found.refetch()} />;
  if (!found.data) return <Box color="muted">Looking at what else is near …</Box>;
  if (found.data.found.length === 0)
    return (
      <Box color="muted">
        {found.data.looked_at === 0
          ? "There are no other compositions within 15 km."
          : "Nothing near wants the light that is forecast."}
      </Box>
    );
  return (
    <Flex direction="column" gap="2">
      {found.data.found.slice(0, 5).map((one) => (
        <Box key={one.composition_id} borderLeftWidth="3px" borderColor="moss" pl="3">
          <Flex gap="2" align="baseline">
            <Link to={`/compositions/${one.composition_id}`} style={{ fontWeight: 700, textDecoration: "underline", flex: 1 }}>
              {one.name}
            </Link>
            <Button aria-label={`Take ${one.name} along`} onClick={() => onAdd(one.composition_id)}>
              Take along
            </Button>
          </Flex>
          <Box fontSize="13px">
            {one.place_name}, {one.when_text}
          </Box>
          <Box fontSize="12.5px" color="muted">
            {one.lines.join("; ")}
          </Box>
        </Box>
      ))}
    </Flex>
  );
}

/** Go or stay: what the light of each picture needs against the forecast, and what else is near. */
export function Weather({ weather, outing, onAdd }: { weather: GoOrStay; outing: Outing; onAdd: (compositionId: string) => void }) {
  const [asked, setAsked] = useState(false);
  return (
    <Box data-testid="go-or-stay">
      <Box fontWeight="700" mb="2">
        {weather.text}
      </Box>
      {weather.visits.map((one) => (
        <Flex key={one.visit_id} gap="2" py="1" borderTopWidth="1px" borderColor="line">
          <Box pt="2px">
            <Likely verdict={one.verdict} />
          </Box>
          <Box flex="1" minW="0">
            <Box fontWeight="600">{one.name}</Box>
            {one.lines.map((line) => (
              <Box key={line} fontSize="12.5px" color="muted">
                {line}
              </Box>
            ))}
          </Box>
        </Flex>
      ))}
      <Box color="muted" fontSize="12.5px" my="2">
        {weather.source_text}
      </Box>
      {asked ? <Instead outing={outing} onAdd={onAdd} /> : <Button onClick={() => setAsked(true)}>What else is near?</Button>}
    </Box>
  );
}
