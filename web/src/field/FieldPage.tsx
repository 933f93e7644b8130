import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { useParams } from "react-router";

import { queryClient, sequenceQuery } from "../api/queries";
import { boardItems } from "../board/store";
import { spotTableKey, takeSequenceAlong } from "../board/takeAlong";
import { Loading, Trouble } from "../shell/states";
import { useUnits } from "../shell/units";
import { CarryOut } from "./CarryOut";

/** A sequence, carried out step by step. Opened with a connection, it comes on board by itself. */
export default function FieldPage() {
  const { id = "" } = useParams();
  const units = useUnits();
  const query = useQuery(sequenceQuery(id));
  const sequence = query.data;
  useEffect(() => {
    if (!sequence || queryClient.getQueryData(spotTableKey(id))) return;
    void boardItems()
      .then(async (items) => {
        if (!items.some((one) => one.of === id)) await takeSequenceAlong(id, units);
      })
      // Without a connection, or without room, it is carried out all the same.
      .catch(() => undefined);
  }, [id, sequence, units]);
  if (sequence) return <CarryOut key={id} sequence={sequence} />;
  if (query.isError) return <Trouble error={query.error} again={() => void query.refetch()} />;
  return <Loading what="the sequence" />;
}
