import "leaflet/dist/leaflet.css";

import { Box, Button, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import L from "leaflet";
import { useEffect, useMemo, useRef, useState } from "react";
import { MapContainer, ScaleControl, useMap, useMapEvents } from "react-leaflet";
import { useNavigate, useSearchParams } from "react-router";

import { compositionsQuery, placesQuery, reliefQuery, terrainsQuery, tracksQuery } from "../api/queries";
import type { PlaceOut, TerrainOut } from "../api/types";
import { PlaceSheet } from "../places/PlaceSheet";
import { Loading, Trouble } from "../shell/states";
import { TopBar } from "../shell/TopBar";
import { Declutter } from "./Declutter";
import { DrawBar, type Drawn, PathHand, PathSheet } from "./DrawPath";
import { FilesPanel } from "./FilesPanel";
import { PlaceMarker, Relief, ShadeLayer, StandMarker, TrackLayer } from "./layers";
import { PlaceList } from "./PlaceList";
import { PlacePanel } from "./PlacePanel";
import { TerrainPanel } from "./TerrainPanel";

interface Spot {
  latitude_deg: number;
  longitude_deg: number;
}

/** Bring what there is into sight: the terrain under the places first, else a terrain, else the places. */
function Fit({ terrains, places, chosen }: { terrains: TerrainOut[]; places: PlaceOut[]; chosen: PlaceOut | undefined }) {
  const map = useMap();
  const fitted = useRef("");
  useEffect(() => {
    const key = `${terrains.map((one) => one.id).join()}/${places.length}`;
    if (fitted.current === key) return;
    const around = L.latLngBounds([]);
    const holds = (one: TerrainOut) =>
      places.some(
        ({ place }) =>
          place.latitude_deg >= one.south_deg &&
          place.latitude_deg <= one.north_deg &&
          place.longitude_deg >= one.west_deg &&
          place.longitude_deg <= one.east_deg,
      );
    // Where there is ground under places that is looked at; a model of somewhere else must not shrink it to a dot.
    const shown = terrains.some(holds) ? terrains.filter(holds) : terrains.slice(0, 1);
    for (const one of shown) around.extend([one.south_deg, one.west_deg]).extend([one.north_deg, one.east_deg]);
    if (shown.length === 0) for (const { place } of places) around.extend([place.latitude_deg, place.longitude_deg]);
    if (!around.isValid()) return;
    fitted.current = key;
    map.fitBounds(around, { animate: false, maxZoom: 14, padding: [10, 10] });
  }, [map, terrains, places]);
  useEffect(() => {
    if (!chosen) return;
    const at: L.LatLngTuple = [chosen.place.latitude_deg, chosen.place.longitude_deg];
    if (!map.getBounds().contains(at)) map.panTo(at, { animate: false });
  }, [map, chosen]);
  return null;
}

function Picker({ on, onPick, onMap }: { on: boolean; onPick: (spot: Spot) => void; onMap: (map: L.Map) => void }) {
  const map = useMapEvents({ click: (e) => on && onPick({ latitude_deg: e.latlng.lat, longitude_deg: e.latlng.lng }) });
  useEffect(() => onMap(map), [map, onMap]);
  useEffect(() => {
    map.getContainer().style.cursor = on ? "crosshair" : "";
  }, [map, on]);
  return null;
}

const STEPS: readonly (readonly [string, number])[] = [
  ["−1 d", -1440],
  ["−1 h", -60],
  ["−10 min", -10],
  ["+10 min", 10],
  ["+1 h", 60],
  ["+1 d", 1440],
];

/** Where things lie: the places' own relief, standpoints, paths, and the ground in shade at a moment. */
export default function MapPage() {
  const places = useQuery(placesQuery);
  const compositions = useQuery(compositionsQuery);
  const terrains = useQuery(terrainsQuery);
  const tracks = useQuery(tracksQuery);
  const relief = useQuery({ ...reliefQuery, enabled: (terrains.data ?? []).length > 0 });
  const go = useNavigate();
  const [chosenId, setChosenId] = useState<string>();
  const [editing, setEditing] = useState<PlaceOut>();
  const [params] = useSearchParams();
  const composing = params.get("place") === "new";
  const [picking, setPicking] = useState(composing);
  const [spot, setSpot] = useState<Spot>();
  const [map, setMap] = useState<L.Map | null>(null);
  const [drawn, setDrawn] = useState<Drawn | null>(null);
  const [keeping, setKeeping] = useState(false);
  const [shaded, setShaded] = useState(false);
  const [moment, setMoment] = useState<number>();
  const [opened] = useState(() => Date.now());
  const failed = [places, compositions, terrains, tracks].find((query) => query.isError && !query.data);
  const ready = useMemo(() => (terrains.data ?? []).filter((one) => one.state === "ready"), [terrains.data]);
  const chosen = places.data?.find((one) => one.id === chosenId);
  const firstMoment = compositions.data?.find((one) => !chosenId || one.place_id === chosenId)?.moment_utc;
  const at = moment ?? (firstMoment ? Date.parse(firstMoment) : opened);
  const zone = chosen?.place.time_zone ?? places.data?.[0]?.place.time_zone ?? "UTC";
  const when = new Date(at).toLocaleString("en-GB", {
    timeZone: zone,
    weekday: "short",
    day: "numeric",
    month: "long",
    year: "numeric",
    hour: "2-digit",
    minute: "2-digit",
  });
  const shadeAt = shaded ? new Date(Math.round(at / 60_000) * 60_000).toISOString() : null;
  const middle = () => {
    const centre = map?.getCenter();
    if (centre) setSpot({ latitude_deg: centre.lat, longitude_deg: centre.lng });
  };
  if (failed)
    return (
      <>
        <TopBar />
        <Trouble error={failed.error} again={() => void failed.refetch()} />
      </>
    );
  return (
    <Flex direction="column" h={{ base: "auto", md: "100vh" }} minH="100vh">
      <TopBar />
      {places.data && compositions.data && terrains.data && tracks.data ? (
        <Flex as="main" flex="1" minH="0" direction={{ base: "column", md: "row" }}>
          <Box
            position="relative"
            flex="1"
            minW="0"
            minH={{ base: "60vh", md: "0" }}
            data-testid="map"
            // While a path is drawn, a press on a sign is a press on the map under it.
            css={drawn ? { "& .leaflet-marker-icon, & .leaflet-interactive": { pointerEvents: "none !important" } } : {}}
          >
            <MapContainer
              center={[0, 0]}
              zoom={2}
              maxZoom={18}
              attributionControl={false}
              style={{ height: "100%", minHeight: "60vh" }}
            >
              <ScaleControl position="bottomleft" />
              <Fit terrains={ready} places={places.data} chosen={chosen} />
              <Picker
                on={picking}
                onMap={setMap}
                onPick={(found) => {
                  setPicking(false);
                  setSpot(found);
                }}
              />
              <Relief terrains={ready} reliefKey={relief.data?.relief_key ?? ""} deepest={relief.data?.deepest_zoom ?? 16} />
              {shadeAt ? ready.map((one) => <ShadeLayer key={one.id + shadeAt} terrain={one} at={shadeAt} />) : null}
              {tracks.data.map((one) => (
                <TrackLayer key={`${one.id}${one.version}`} track={one} named={one.place_id === chosenId} />
              ))}
              {compositions.data.map((one) => (
                <StandMarker key={one.id} one={one} onOpen={() => void go(`/compositions/${one.id}`)} />
              ))}
              {places.data.map((one) => (
                <PlaceMarker key={one.id} place={one} chosen={one.id === chosenId} onChoose={() => setChosenId(one.id)} />
              ))}
              {drawn ? <PathHand drawn={drawn} onDraw={setDrawn} /> : null}
              <Declutter of={`${chosenId ?? ""} ${places.data.length} ${tracks.data.length}`} />
            </MapContainer>
            <Flex
              position="absolute"
              left="56px"
              right="10px"
              top="10px"
              zIndex={1000}
              gap="2"
              wrap="wrap"
              align="center"
              pointerEvents="none"
              css={{ "& > *": { pointerEvents: "auto" } }}
            >
              <Button variant="solid" aria-pressed={picking} onClick={() => setPicking(!picking)}>
                {picking ? "Press where it lies" : "New place here"}
              </Button>
              <Button onClick={middle}>New place in the middle</Button>
              {drawn ? null : (
                <Button
                  onClick={() => {
                    setPicking(false);
                    setDrawn([]);
                  }}
                >
                  Draw a path
                </Button>
              )}
              <Button
                aria-pressed={shaded}
                variant={shaded ? "outline" : "plain"}
                disabled={ready.length === 0}
                onClick={() => setShaded(!shaded)}
              >
                Shade of the terrain
              </Button>
              {drawn ? (
                <DrawBar
                  drawn={drawn}
                  middle={() => {
                    const centre = map?.getCenter();
                    return centre ? [centre.lat, centre.lng] : null;
                  }}
                  onDraw={setDrawn}
                  onKeep={() => setKeeping(true)}
                  onEnd={() => setDrawn(null)}
                />
              ) : null}
              {shaded ? (
                <Flex
                  bg="raised"
                  borderWidth="1px"
                  borderColor="line"
                  align="center"
                  gap="1"
                  px="2"
                  h="30px"
                  role="group"
                  aria-label="Moment of the shade"
                >
                  <Box fontFamily="mono" fontSize="13px" data-testid="shade-moment">
                    {when}
                  </Box>
                  {STEPS.map(([label, minutes]) => (
                    <Button key={label} h="24px" px="6px" onClick={() => setMoment(at + minutes * 60_000)}>
                      {label}
                    </Button>
                  ))}
                </Flex>
              ) : null}
            </Flex>
          </Box>
          <Box
            as="aside"
            aria-label="Places and terrain"
            w={{ base: "100%", md: "390px" }}
            borderLeftWidth="1px"
            borderColor="line"
            bg="panel"
            p="4"
            overflowY="auto"
            tabIndex={0}
          >
            <Flex direction="column" gap="5">
              <Box>
                <PlaceList places={places.data} chosenId={chosenId} onChoose={setChosenId} />
                {places.data.length === 0 ? (
                  <Box fontSize="13.5px">No places yet. Press “New place here” and then the map, or import them below.</Box>
                ) : null}
              </Box>
              {chosen ? (
                <PlacePanel
                  place={chosen}
                  compositions={compositions.data.filter((one) => one.place_id === chosen.id)}
                  tracks={tracks.data.filter((one) => one.place_id === chosen.id)}
                  onEdit={() => setEditing(chosen)}
                />
              ) : null}
              <TerrainPanel places={places.data} />
              <FilesPanel chosen={chosen} onPlace={setChosenId} />
            </Flex>
          </Box>
        </Flex>
      ) : (
        <Loading what="the map" />
      )}
      {keeping && drawn ? (
        <PathSheet
          drawn={drawn}
          places={places.data ?? []}
          chosen={chosen}
          onKept={(placeId) => {
            setKeeping(false);
            setDrawn(null);
            setChosenId(placeId);
          }}
          onClose={() => setKeeping(false)}
        />
      ) : null}
      {editing ? <PlaceSheet place={editing} onClose={() => setEditing(undefined)} /> : null}
      {spot ? (
        <PlaceSheet
          place={undefined}
          start={spot}
          onClose={() => setSpot(undefined)}
          onSaved={({ id }) => (composing ? void go(`/begin?place=${id}`) : setChosenId(id))}
        />
      ) : null}
    </Flex>
  );
}
