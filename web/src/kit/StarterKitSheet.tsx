import { Box, Button } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { api, ask, problemOf } from "../api/client";
import { renew, usualKitQuery } from "../api/queries";
import type { StarterKit } from "../api/types";
import { StarterKitFields, usualOf } from "../begin/StarterKitFields";
import { Sheet } from "../shell/Sheet";
import { Loading, Trouble } from "../shell/states";

/** Several usual things at once: a format, and ticks for what is owned. */
export function StarterKitSheet({ onClose }: { onClose: () => void }) {
  const formats = useQuery(usualKitQuery);
  const [chosen, setChosen] = useState<StarterKit | null>(null);
  const full = formats.data?.find((one) => one.id === "full");
  const kit = chosen ?? (full ? usualOf(full) : null);
  const add = useMutation({
    mutationFn: async (body: StarterKit) => ask(api.POST("/api/beginnings/kit", { body })),
    onSuccess: () => {
      void renew("kit");
      onClose();
    },
  });
  return (
    <Sheet
      title="Starter kit"
      open
      onClose={onClose}
      footer={
        <Button variant="solid" size="md" disabled={!kit} loading={add.isPending} onClick={() => kit && add.mutate(kit)}>
          Add to the kit
        </Button>
      }
    >
      {formats.isError && !formats.data ? <Trouble error={formats.error} again={() => void formats.refetch()} /> : null}
      {formats.data && kit ? (
        <StarterKitFields formats={formats.data} kit={kit} onCommit={setChosen} />
      ) : (
        <Loading what="the usual kit" />
      )}
      {add.isError ? (
        <Box role="alert" color="rust" mt="2">
          {problemOf(add.error).detail}
        </Box>
      ) : null}
    </Sheet>
  );
}
