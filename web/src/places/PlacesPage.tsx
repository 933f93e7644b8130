import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { api, ask } from "../api/client";
import { compositionsQuery, placesQuery, renew } from "../api/queries";
import type { CompositionBrief, PlaceOut } from "../api/types";
import { compositionActs } from "../home/compositionActs";
import { RareActs } from "../shell/RareActs";
import { notify, notifyTrouble } from "../shell/notices";
import { shareActs } from "../sharing/shareActs";
import { Empty, Loading, Trouble } from "../shell/states";
import { Page } from "../shell/TopBar";
import { PlaceSheet } from "./PlaceSheet";

const refresh = () => renew("places", "compositions");

function CompositionLine({ one }: { one: CompositionBrief }) {
  const when = new Date(one.moment_utc).toLocaleString("en-GB", {
    timeZone: one.time_zone,
    day: "numeric",
    month: "long",
    year: "numeric",
    hour: "2-digit",
    minute: "2-digit",
  });
  return (
    <Flex align="center" gap="3" py="7px" borderTopWidth="1px" borderColor="line" _hover={{ bg: "raised" }} px="2" mx="-2">
      <Link to={`/compositions/${one.id}`} style={{ flex: 1, minWidth: 0 }}>
        <Box fontWeight="700" fontSize="15px">
          {one.name}
        </Box>
        <Box color="muted" fontSize="13px">
          {when} · {one.lens_name} · {one.elements} {one.elements === 1 ? "element" : "elements"}
        </Box>
      </Link>
      <RareActs of={one.name} acts={compositionActs(one)} />
    </Flex>
  );
}

function PlaceCard({ place, compositions, onEdit }: { place: PlaceOut; compositions: CompositionBrief[]; onEdit: () => void }) {
  const path = { params: { path: { id: place.id } } };
  const restore = () => ask(api.POST("/api/places/{id}/restore", path)).then(refresh, notifyTrouble);
  const remove = () =>
    ask(api.DELETE("/api/places/{id}", path)).then(() => {
      void refresh();
      notify({
        title: `${place.place.name} deleted`,
        detail: compositions.length > 0 ? `Its ${compositions.length} compositions are hidden with it.` : "",
        undo: () => void restore(),
      });
    }, notifyTrouble);
  const { latitude_deg, longitude_deg, elevation_m, time_zone, name } = place.place;
  return (
    <Box as="section" bg="panel" borderWidth="1px" borderColor="line" p="4" mb="4" aria-label={name}>
      <Flex gap="3" align="center" mb="2" wrap="wrap">
        <Box flex="1" minW="16rem">
          <chakra.h2 fontSize="19px" fontWeight="700">
            {name}
          </chakra.h2>
          <Box fontFamily="mono" fontSize="12.5px" color="muted">
            {Math.abs(latitude_deg).toFixed(4)}° {latitude_deg < 0 ? "S" : "N"} {Math.abs(longitude_deg).toFixed(4)}°{" "}
            {longitude_deg < 0 ? "W" : "E"} · {elevation_m} m · {time_zone}
          </Box>
        </Box>
        <Button onClick={onEdit} aria-label={`Edit ${name}`}>
          Edit
        </Button>
        <Button asChild variant="outline">
          <Link to={`/begin?place=${place.id}`} aria-label={`New composition at ${name}`}>
            New composition
          </Link>
        </Button>
        <RareActs
          of={name}
          acts={[
            {
              key: "duplicate",
              label: "Duplicate",
              run: () => void ask(api.POST("/api/places/{id}/duplicate", path)).then(refresh, notifyTrouble),
            },
            ...shareActs({ kind: "place", id: place.id, name }),
            { key: "delete", label: "Delete", run: () => void remove() },
          ]}
        />
      </Flex>
      {place.access ? <Box fontSize="13.5px">{place.access}</Box> : null}
      {place.hazards ? (
        <Box fontSize="13.5px" borderLeftWidth="4px" borderColor="rust" pl="2" mt="1" mb="2">
          {place.hazards}
        </Box>
      ) : null}
      {compositions.map((one) => (
        <CompositionLine key={one.id} one={one} />
      ))}
      {compositions.length === 0 ? (
        <Box color="muted" pt="2">
          No compositions here yet.
        </Box>
      ) : null}
    </Box>
  );
}

/** Where to photograph, and what is composed there. */
export default function PlacesPage() {
  const places = useQuery(placesQuery);
  const compositions = useQuery(compositionsQuery);
  const [editing, setEditing] = useState<PlaceOut | "new">();
  const failed = [places, compositions].find((query) => query.isError && !query.data);
  return (
    <Page
      word="place"
      title="Places"
      intro="Where you photograph, and what you compose there."
      actions={
        <Button variant="solid" size="md" onClick={() => setEditing("new")}>
          New place
        </Button>
      }
    >
      {failed ? <Trouble error={failed.error} again={() => void failed.refetch()} /> : null}
      {!failed && (!places.data || !compositions.data) ? <Loading what="the places" /> : null}
      {places.data?.length === 0 ? (
        <Empty
          title="No places yet"
          action={
            <Button variant="outline" onClick={() => setEditing("new")}>
              Add the first place
            </Button>
          }
        >
          A place has coordinates and a time zone; with them the light of every day is known. Compositions belong to a place.
        </Empty>
      ) : null}
      {places.data?.map((place) => (
        <PlaceCard
          key={place.id}
          place={place}
          compositions={(compositions.data ?? []).filter((one) => one.place_id === place.id)}
          onEdit={() => setEditing(place)}
        />
      ))}
      {editing ? <PlaceSheet place={editing === "new" ? undefined : editing} onClose={() => setEditing(undefined)} /> : null}
    </Page>
  );
}
