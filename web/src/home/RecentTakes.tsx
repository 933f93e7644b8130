import { Box, chakra } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";

import { takesQuery } from "../api/queries";
import { Rating } from "../shell/Rating";

const SHOWN = 4;

/** The last sequences that were carried out. */
export function RecentTakes() {
  const takes = useQuery(takesQuery({}));
  const last = takes.data?.takes.slice(0, SHOWN) ?? [];
  if (last.length === 0) return null;
  return (
    <Box as="section" aria-label="Recent takes" mt="8">
      <chakra.h2 fontSize="17px" fontWeight="700" mb="2">
        Recent takes
      </chakra.h2>
      <Box display="grid" gridTemplateColumns={{ base: "1fr", md: "1fr 1fr", xl: "repeat(4, 1fr)" }} gap="10px">
        {last.map((take) => (
          <Link key={take.id} to={`/logbook/${take.id}`}>
            <Box bg="panel" borderWidth="1px" borderColor="line" px="3" py="2" h="100%" _hover={{ bg: "raised" }}>
              <Box fontFamily="mono" fontSize="12.5px" color="muted">
                {take.started_text}
              </Box>
              <Box fontWeight="700">{take.composition_name}</Box>
              <Rating rating={take.rating} />
              <Box fontSize="13px" color="muted">
                {take.faults.join(", ") || take.note}
              </Box>
            </Box>
          </Link>
        ))}
      </Box>
    </Box>
  );
}
