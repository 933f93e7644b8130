import { Box, Button, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";

import { nextOutingQuery } from "../api/queries";
import { until } from "../outings/until";
import { useUnits } from "../shell/units";
import { useNow } from "../shell/useNow";

/** The outing that comes next, with the time left until it begins. */
export function NextOuting() {
  const units = useUnits();
  const { data } = useQuery(nextOutingQuery(units));
  const now = useNow(1000);
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
            {until(Date.parse(data.next_at), now)}
          </Box>
          <Box color="muted">{data.next_text}</Box>
        </Box>
      ) : null}
      <Flex gap="2">
        <Button asChild variant="outline" size="md">
          <Link to={`/outings/${data.id}/pack`}>Pack</Link>
        </Button>
        <Button asChild variant="outline" size="md">
          <Link to={`/outings/${data.id}/way`}>On the way</Link>
        </Button>
      </Flex>
    </Flex>
  );
}
