import { Box, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link, useParams } from "react-router";

import { sequenceQuery } from "../api/queries";
import type { SequenceOut, SpotTable } from "../api/types";
import { askSpotTable, spotTableKey } from "../board/takeAlong";
import { Loading, Trouble } from "../shell/states";
import { useUnits } from "../shell/units";

/** A page for a question on the spot, out of what was worked out beforehand for the sequence of the address. */
export function OnSpot({ children }: { children: (table: SpotTable, sequence: SequenceOut) => ReactNode }) {
  const { id = "" } = useParams();
  const units = useUnits();
  const sequence = useQuery(sequenceQuery(id));
  const table = useQuery({ queryKey: spotTableKey(id), queryFn: () => askSpotTable(id, units), staleTime: Infinity });
  const failed = [sequence, table].find((one) => one.isError && !one.data);
  return (
    <Flex as="main" direction="column" minH="100dvh" maxW="480px" mx="auto" px="16px" pb="12px">
      <Flex minH="48px" align="center">
        <Link
          to={`/field/${id}`}
          style={{ textDecoration: "underline", display: "inline-flex", minHeight: 48, alignItems: "center" }}
        >
          ← {sequence.data?.plan.composition_name ?? "Back"}
        </Link>
      </Flex>
      {sequence.data && table.data ? (
        children(table.data, sequence.data)
      ) : failed ? (
        <>
          <Trouble error={failed.error} again={() => void failed.refetch()} />
          <Box color="muted">
            The answers for the spot were not taken along. They come on board with Take along while there is a connection.
          </Box>
        </>
      ) : (
        <Loading what="the answers for the spot" />
      )}
    </Flex>
  );
}
