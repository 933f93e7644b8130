import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";

import { api, ask } from "../api/client";
import { renew, spotsQuery } from "../api/queries";
import type { CrossOut, SpotOut } from "../api/types";
import { useBoard } from "../board/useBoard";
import { notify, notifyTrouble } from "../shell/notices";
import type { Of } from "./MeasurePage";

const NAMES: Record<string, string> = {
  position: "Standpoint",
  bearing: "Bearing",
  skyline: "Skyline",
  reading: "Reading",
  note: "Note",
};

function OneSpot({ spot }: { spot: SpotOut }) {
  const take = useMutation({
    mutationFn: () => ask(api.POST("/api/spots/{id}/take-on", { params: { path: { id: spot.id } } })),
    onSuccess: (made) => {
      notify({ title: `Taken on: ${made.does}`, detail: made.words });
      void renew("spots", "compositions", "places");
    },
    onError: notifyTrouble,
  });
  const away = useMutation({
    mutationFn: () => ask(api.DELETE("/api/spots/{id}", { params: { path: { id: spot.id } } })),
    onSuccess: () => {
      void renew("spots");
      notify({
        title: "Deleted",
        undo: () =>
          void ask(api.POST("/api/spots/{id}/restore", { params: { path: { id: spot.id } } })).then(
            () => renew("spots"),
            notifyTrouble,
          ),
      });
    },
    onError: notifyTrouble,
  });
  return (
    <Flex py="2" gap="2" borderTopWidth="1px" borderColor="line" align="center" data-testid={`spot-${spot.measured.kind}`}>
      <Box flex="1" minW="0">
        <b>{NAMES[spot.measured.kind]}</b> {spot.words}
        <Box fontSize="13px" color="muted">
          {spot.measured_text}
          {spot.taken_on_at ? " · taken on" : ""}
        </Box>
      </Box>
      {spot.does && !spot.taken_on_at ? (
        <Button h="48px" onClick={() => take.mutate()} loading={take.isPending} title={spot.does}>
          Take on
        </Button>
      ) : null}
      <Button
        h="48px"
        variant="ghost"
        onClick={() => away.mutate()}
        aria-label={`Delete: ${NAMES[spot.measured.kind]} ${spot.words}`}
      >
        Delete
      </Button>
    </Flex>
  );
}

/** Two bearings of one thing, and where they cross. */
function Crossing({ name, first, second }: { name: string; first: string; second: string }) {
  const found = useQuery<CrossOut>({
    queryKey: ["spots", "cross", first, second],
    queryFn: () => ask(api.POST("/api/spots/cross", { body: { first, second } })),
    retry: false,
  });
  const put = useMutation({
    mutationFn: () => ask(api.POST("/api/spots/cross", { body: { first, second, take_on: true } })),
    onSuccess: () => {
      notify({ title: `${name} stands there now` });
      void renew("compositions");
    },
    onError: notifyTrouble,
  });
  return (
    <Flex py="2" gap="2" align="center" borderLeftWidth="4px" borderColor="slate" pl="3" my="2" data-testid="crossing">
      <Box flex="1">{found.isError ? found.error.message : (found.data?.words ?? "Where they cross is worked out …")}</Box>
      {found.data ? (
        <Button h="48px" onClick={() => put.mutate()} loading={put.isPending}>
          Put it there
        </Button>
      ) : null}
    </Flex>
  );
}

/** The last two bearings of each thing. */
function pairs(spots: SpotOut[]) {
  const by = new Map<string, string[]>();
  for (const { id, measured } of spots)
    if (measured.kind === "bearing" && measured.what === "element") by.set(measured.name, [...(by.get(measured.name) ?? []), id]);
  return [...by].flatMap(([name, [second, first]]) => (first && second ? [{ name, first, second }] : []));
}

/** What was measured for a composition: what is handed in, and what waits on this device. */
export function MeasuredList({ of }: { of: Of }) {
  const spots = useQuery(spotsQuery(of.id));
  const waits = (useBoard()?.waiting ?? []).filter((one) => one.state === "waiting" && one.kind !== "take");
  const all = spots.data ?? [];
  return (
    <Box as="section" mt="4" aria-label="Measured so far">
      <chakra.h2 fontWeight="700" fontSize="17px">
        Measured so far
      </chakra.h2>
      {waits.map((one) => (
        <Box key={one.id} py="2" borderTopWidth="1px" borderColor="line" data-testid="spot-waits">
          <b>{one.name}</b>
          <Box fontSize="13px" color="muted">
            on this device, waits to be handed in
          </Box>
        </Box>
      ))}
      {pairs(all).map((one) => (
        <Crossing key={one.first + one.second} {...one} />
      ))}
      {all.map((one) => (
        <OneSpot key={one.id} spot={one} />
      ))}
      {waits.length === 0 && all.length === 0 ? <Box color="muted">Nothing yet.</Box> : null}
    </Box>
  );
}
