import { Box, Button, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";

import { api, ask } from "../api/client";
import { placesQuery, renew } from "../api/queries";
import type { LooseGroup } from "../api/types";
import { ChoiceField, TextField } from "../shell/fields";
import { notify, notifyTrouble } from "../shell/notices";
import { useUnits } from "../shell/units";
import { letGo } from "./letGo";

/** Makes a take of pictures that nobody planned: it asks where it was, and what to call it. */
export function OwnTake({ group, clockOff }: { group: LooseGroup; clockOff: number | null }) {
  const [asking, setAsking] = useState(false);
  const [name, setName] = useState("");
  const [chosen, setChosen] = useState<string | null>(null);
  const places = useQuery(placesQuery);
  const units = useUnits();
  const go = useNavigate();
  const place = chosen ?? group.place_id ?? places.data?.[0]?.id;
  const called = name.trim() || "Unplanned";
  const make = useMutation({
    mutationFn: async (placeId: string) => {
      const body = { place_id: placeId, name: called, clock_off_s: clockOff, units, pictures: group.pictures };
      return await ask(api.POST("/api/review/groups", { body }));
    },
    onSuccess: (made) => {
      void renew("pictures", "matches", "takes");
      notify({ title: `${called} is in the logbook`, undo: () => letGo(group.pictures, made.take_id) });
      void go(`/logbook/${made.take_id}`);
    },
    onError: notifyTrouble,
  });
  if (!asking)
    return (
      <Button variant="outline" onClick={() => setAsking(true)}>
        Put in the logbook
      </Button>
    );
  return (
    <Flex gap="3" align="end" wrap="wrap">
      <TextField label="Call it" value={name} placeholder="Unplanned" onCommit={setName} />
      {places.data && places.data.length > 0 && place ? (
        <ChoiceField
          label="Taken at"
          value={place}
          options={places.data.map((one) => [one.id, one.place.name] as const)}
          onCommit={setChosen}
        />
      ) : (
        <Box>Add the place first, under Places.</Box>
      )}
      <Button variant="solid" disabled={!place} loading={make.isPending} onClick={() => place && make.mutate(place)}>
        Put in
      </Button>
    </Flex>
  );
}
