import { Box, Button, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link } from "react-router";

import { nextOutingQuery } from "../api/queries";
import { useUnits } from "../shell/units";

const MINUTE_MS = 60_000;

/** How long until then, to the minute; the last two hours to the second. */
function away(until: number, now: number): string {
  const left = Math.max(until - now, 0);
  const [seconds, minutes] = [Math.floor(left / 1000), Math.floor(left / MINUTE_MS)];
  const two = (n: number) => String(n).padStart(2, "0");
  if (minutes < 120) return `${minutes}:${two(seconds % 60)} min`;
  const hours = Math.floor(minutes / 60);
  return hours < 48 ? `${hours} h ${two(minutes % 60)} min` : `${Math.floor(hours / 24)} days ${hours % 24} h`;
}

/** The outing that comes next, with the time left until it begins. */
export function NextOuting() {
  const units = useUnits();
  const { data } = useQuery(nextOutingQuery(units));
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = window.setInterval(() => setNow(Date.now()), 1000);
    return () => window.clearInterval(timer);
  }, []);
  if (!data?.id) return null;
  return (
    <Flex
      borderLeftWidth="4px"
      borderColor="moss"
      bg="panel"
      px="4"
      py="3"
      mb="5"
      gap="4"
      align="center"
      wrap="wrap"
      data-testid="next-outing"
    >
      <Box flex="1" minW="14rem">
        <Box fontSize="12.5px" color="muted">
          Next outing · {data.when_text}
        </Box>
        <Link to={`/outings/${data.id}`} style={{ fontWeight: 700, fontSize: 18, textDecoration: "underline" }}>
          {data.name}
        </Link>
        <Box>{data.heading}</Box>
      </Box>
      {data.next_at ? (
        <Box textAlign={{ base: "left", md: "right" }}>
          <Box className="lr-fig" fontSize="24px" fontWeight="700" role="timer" aria-label={`Until ${data.next_text}`}>
            {away(Date.parse(data.next_at), now)}
          </Box>
          <Box color="muted">{data.next_text}</Box>
        </Box>
      ) : null}
      <Button asChild variant="outline" size="md">
        <Link to={`/outings/${data.id}/pack`}>Pack</Link>
      </Button>
    </Flex>
  );
}
