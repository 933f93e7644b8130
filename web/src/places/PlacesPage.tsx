import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";

import { api, ask, problemOf } from "../api/client";
import { compositionsQuery, kitQuery, placesQuery, queryClient } from "../api/queries";
import type { CompositionBrief, PlaceOut } from "../api/types";
import { ChoiceField, TextField } from "../shell/fields";
import { notify, notifyTrouble } from "../shell/notices";
import { Sheet } from "../shell/Sheet";
import { Empty, Loading, Trouble } from "../shell/states";
import { Page } from "../shell/TopBar";
import { PlaceSheet } from "./PlaceSheet";

const refresh = () => Promise.all(["places", "compositions"].map((key) => queryClient.invalidateQueries({ queryKey: [key] })));

function NewComposition({ place, onClose }: { place: PlaceOut; onClose: () => void }) {
  const kit = useQuery(kitQuery);
  const go = useNavigate();
  const [name, setName] = useState("New composition");
  const [chosen, setChosen] = useState<Record<string, string>>({});
  const of = (kind: string) =>
    (kit.data ?? []).filter(({ item }) => item.kind === kind).map(({ id, item }) => [id, item.details.name] as const);
  const id = (kind: string) => chosen[kind] ?? of(kind)[0]?.[0] ?? "";
  const lacking = ["body", "lens", "support"].filter((kind) => of(kind).length === 0);
  const add = useMutation({
    mutationFn: async () =>
      await ask(
        api.POST("/api/compositions", {
          body: { name, place_id: place.id, body_id: id("body"), lens_id: id("lens"), support_id: id("support") },
        }),
      ),
    onSuccess: (made) => {
      void refresh();
      void go(`/compositions/${made.id}`);
    },
  });
  return (
    <Sheet
      title={`A composition at ${place.place.name}`}
      open
      onClose={onClose}
      footer={
        <Button variant="solid" size="md" disabled={lacking.length > 0} loading={add.isPending} onClick={() => add.mutate()}>
          Open the workbench
        </Button>
      }
    >
      {lacking.length > 0 ? (
        <Box>
          Your kit has no {lacking.join(", no ")} yet.{" "}
          <Link to="/kit" style={{ textDecoration: "underline" }}>
            Add {lacking.length > 1 ? "them" : "one"} to the kit
          </Link>{" "}
          first.
        </Box>
      ) : (
        <Flex direction="column" gap="3">
          <TextField label="name" value={name} onCommit={setName} />
          {(["body", "lens", "support"] as const).map((kind) => (
            <ChoiceField
              key={kind}
              label={kind}
              value={id(kind)}
              options={of(kind)}
              onCommit={(one) => setChosen({ ...chosen, [kind]: one })}
            />
          ))}
          {add.isError ? (
            <Box role="alert" color="rust">
              {problemOf(add.error).detail}
            </Box>
          ) : null}
        </Flex>
      )}
    </Sheet>
  );
}

function CompositionLine({ one }: { one: CompositionBrief }) {
  const path = { params: { path: { id: one.id } } };
  const restore = () => ask(api.POST("/api/compositions/{id}/restore", path)).then(refresh, notifyTrouble);
  const remove = () =>
    ask(api.DELETE("/api/compositions/{id}", path)).then(() => {
      void refresh();
      notify({ title: `“${one.name}” deleted`, undo: () => void restore() });
    }, notifyTrouble);
  const duplicate = () => ask(api.POST("/api/compositions/{id}/duplicate", path)).then(refresh, notifyTrouble);
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
      <Button onClick={() => void duplicate()} aria-label={`Duplicate ${one.name}`}>
        Duplicate
      </Button>
      <Button onClick={() => void remove()} aria-label={`Delete ${one.name}`}>
        Delete
      </Button>
    </Flex>
  );
}

function PlaceCard({
  place,
  compositions,
  onEdit,
  onCompose,
}: {
  place: PlaceOut;
  compositions: CompositionBrief[];
  onEdit: () => void;
  onCompose: () => void;
}) {
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
        <Button
          onClick={() => void ask(api.POST("/api/places/{id}/duplicate", path)).then(refresh, notifyTrouble)}
          aria-label={`Duplicate ${name}`}
        >
          Duplicate
        </Button>
        <Button onClick={() => void remove()} aria-label={`Delete ${name}`}>
          Delete
        </Button>
        <Button variant="outline" onClick={onCompose} aria-label={`New composition at ${name}`}>
          New composition
        </Button>
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
  const [composing, setComposing] = useState<PlaceOut>();
  const failed = [places, compositions].find((query) => query.isError && !query.data);
  return (
    <Page
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
          onCompose={() => setComposing(place)}
        />
      ))}
      {editing ? <PlaceSheet place={editing === "new" ? undefined : editing} onClose={() => setEditing(undefined)} /> : null}
      {composing ? <NewComposition place={composing} onClose={() => setComposing(undefined)} /> : null}
    </Page>
  );
}
