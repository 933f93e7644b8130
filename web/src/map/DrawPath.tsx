import { Button, Flex } from "@chakra-ui/react";
import L from "leaflet";
import { useState } from "react";
import { CircleMarker, Polyline, useMapEvents } from "react-leaflet";

import { api, ask, problemOf, wordsOf } from "../api/client";
import { renew } from "../api/queries";
import type { PlaceOut } from "../api/types";
import { ChoiceField, TextField } from "../shell/fields";
import { freshId } from "../shell/freshId";
import { notify } from "../shell/notices";
import { Sheet } from "../shell/Sheet";

export type Drawn = readonly L.LatLngTuple[];

/** The path under the hand: each press of the map adds a point. Enter adds the middle of the map, Backspace takes the last one back. */
export function PathHand({ drawn, onDraw }: { drawn: Drawn; onDraw: (next: Drawn) => void }) {
  useMapEvents({
    click: (event) => onDraw([...drawn, [event.latlng.lat, event.latlng.lng]]),
    keydown: (event) => {
      const { key } = event.originalEvent;
      if (key !== "Enter" && key !== "Backspace") return;
      event.originalEvent.preventDefault();
      const centre = (event.target as L.Map).getCenter();
      onDraw(key === "Enter" ? [...drawn, [centre.lat, centre.lng]] : drawn.slice(0, -1));
    },
  });
  const last = drawn.at(-1);
  return (
    <>
      <Polyline positions={[...drawn]} className="lr-path" weight={3.5} interactive={false} />
      {last ? <CircleMarker center={last} radius={6} className="lr-picked" interactive={false} /> : null}
    </>
  );
}

/** What stands over the map while a path is drawn. */
export function DrawBar({
  drawn,
  middle,
  onDraw,
  onKeep,
  onEnd,
}: {
  drawn: Drawn;
  middle: () => L.LatLngTuple | null;
  onDraw: (next: Drawn) => void;
  onKeep: () => void;
  onEnd: () => void;
}) {
  const here = () => {
    const at = middle();
    if (at) onDraw([...drawn, at]);
  };
  return (
    <Flex
      bg="raised"
      borderWidth="1px"
      borderColor="rust"
      align="center"
      gap="2"
      px="2"
      py="1"
      wrap="wrap"
      role="group"
      aria-label="Drawing a path"
    >
      <span role="status">{drawn.length === 0 ? "Press the map where the path begins" : `${drawn.length} points`}</span>
      <Button onClick={here}>Point in the middle</Button>
      <Button disabled={drawn.length === 0} onClick={() => onDraw(drawn.slice(0, -1))}>
        Take the last back
      </Button>
      <Button variant="solid" disabled={drawn.length < 2} onClick={onKeep}>
        Keep it
      </Button>
      <Button onClick={onEnd}>Leave it</Button>
    </Flex>
  );
}

/** What a drawn path is called, and to which place it belongs. */
export function PathSheet({
  drawn,
  places,
  chosen,
  onKept,
  onClose,
}: {
  drawn: Drawn;
  places: readonly PlaceOut[];
  chosen: PlaceOut | undefined;
  onKept: (placeId: string) => void;
  onClose: () => void;
}) {
  const first = drawn[0] ?? [0, 0];
  const away = ({ place }: PlaceOut) => L.latLng(first).distanceTo([place.latitude_deg, place.longitude_deg]);
  const nearest = [...places].sort((a, b) => away(a) - away(b))[0];
  const [name, setName] = useState("");
  const [place, setPlace] = useState((chosen ?? nearest)?.id ?? "");
  const [trouble, setTrouble] = useState("");
  const [busy, setBusy] = useState(false);
  const keep = async () => {
    setBusy(true);
    const points = drawn.map(([latitude, longitude]) => [latitude, longitude, null] as [number, number, null]);
    const body = {
      id: freshId(),
      place_id: place,
      name: name.trim() || "Path drawn by hand",
      kind: "path" as const,
      sort: "walk_in" as const,
      note: "",
      points,
    };
    try {
      await ask(api.POST("/api/tracks", { body }));
      await renew("tracks");
      notify({ title: `${body.name} kept` });
      onKept(place);
    } catch (error) {
      setTrouble(wordsOf(problemOf(error)));
      setBusy(false);
    }
  };
  return (
    <Sheet
      title="Keep the path"
      open
      onClose={onClose}
      footer={
        <Button variant="solid" size="md" loading={busy} disabled={!place} onClick={() => void keep()}>
          Keep it
        </Button>
      }
    >
      <Flex direction="column" gap="3">
        <TextField label="Name" value={name} placeholder="Path drawn by hand" onCommit={setName} />
        {places.length > 0 ? (
          <ChoiceField
            label="Belongs to"
            value={place}
            options={places.map((one) => [one.id, one.place.name] as const)}
            onCommit={setPlace}
          />
        ) : (
          <p>A path belongs to a place. Make a place first.</p>
        )}
        <p>Heights come from the terrain where there is one. Outings walk along it where it leads near a standpoint.</p>
        {trouble ? <p role="alert">{trouble}</p> : null}
      </Flex>
    </Sheet>
  );
}
