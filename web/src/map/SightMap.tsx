import "leaflet/dist/leaflet.css";

import { Box } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import L from "leaflet";
import { useEffect, useMemo } from "react";
import { CircleMarker, MapContainer, Polyline, ScaleControl, useMap, useMapEvents } from "react-leaflet";

import { placesQuery, reliefQuery, terrainsQuery, tracksQuery } from "../api/queries";
import type { Pointed } from "../api/types";
import { PlaceMarker, Relief, TrackLayer } from "./layers";

type Along = Pointed["along"][number];
const at = (one: Along): L.LatLngTuple => [one.latitude_deg, one.longitude_deg];

/** How much farther than the likely distance the map shows at first. */
const LOOK_BEYOND = 1.6;
const USUAL_M = 500;

/** The place along the sight that is drawn nearest to a point of the screen. */
function nearest(map: L.Map, along: readonly Along[], pressed: L.Point): Along | undefined {
  const away = (one: Along) => map.latLngToContainerPoint(at(one)).distanceTo(pressed);
  return along.reduce<Along | undefined>((best, one) => (best && away(best) <= away(one) ? best : one), undefined);
}

function Hands({ pointed, distance, onPick }: { pointed: Pointed; distance: number | null; onPick: (metres: number) => void }) {
  const map = useMap();
  useMapEvents({
    click: (event) => {
      const found = nearest(map, pointed.along, event.containerPoint);
      if (found) onPick(Number(found.distance_m.toPrecision(3)));
    },
  });
  useEffect(() => {
    const far = pointed.along.find((one) => one.distance_m >= (distance ?? USUAL_M) * LOOK_BEYOND) ?? pointed.along.at(-1);
    if (far) map.fitBounds(L.latLngBounds([pointed.from_deg, at(far)]), { animate: false, maxZoom: 18, padding: [24, 24] });
    // Only where the sight changes: what is picked must not move the map under the hand.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [map, pointed]);
  useEffect(() => {
    map.getContainer().style.cursor = "crosshair";
  }, [map]);
  return null;
}

/** The sight of a press in the view on the map; a press along it is the distance. Arrow keys go along it, too. */
export default function SightMap(props: { pointed: Pointed; distance: number | null; onPick: (metres: number) => void }) {
  const { pointed, distance, onPick } = props;
  const terrains = useQuery(terrainsQuery);
  const relief = useQuery({ ...reliefQuery, enabled: (terrains.data ?? []).length > 0 });
  const places = useQuery(placesQuery);
  const tracks = useQuery(tracksQuery);
  const ready = useMemo(() => (terrains.data ?? []).filter((one) => one.state === "ready"), [terrains.data]);
  const { along } = pointed;
  const index = distance === null ? -1 : along.findIndex((one) => one.distance_m >= distance * 0.985);
  const picked = along[index];
  const step = (by: number) => {
    const next = along[Math.min(Math.max((index < 0 ? 0 : index) + by, 0), along.length - 1)];
    if (next) onPick(Number(next.distance_m.toPrecision(3)));
  };
  return (
    <Box>
      <Box
        h="260px"
        borderWidth="1px"
        borderColor="line"
        role="slider"
        tabIndex={0}
        aria-label="Distance along the sight; arrow keys go nearer and farther"
        aria-valuenow={Math.round(distance ?? 0)}
        aria-valuetext={picked?.text ?? "not known"}
        data-testid="sight-map"
        // Signs are to be read here: a press on one is a press on the map under it.
        css={{ "& .leaflet-marker-icon, & .leaflet-interactive": { pointerEvents: "none !important" } }}
        onKeyDownCapture={(event) => {
          const by = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1, PageUp: 10, PageDown: -10 }[event.key];
          if (!by) return;
          event.preventDefault();
          event.stopPropagation();
          step(by);
        }}
      >
        <MapContainer center={pointed.from_deg} zoom={14} maxZoom={20} attributionControl={false} style={{ height: "100%" }}>
          <ScaleControl position="bottomleft" />
          <Relief terrains={ready} reliefKey={relief.data?.relief_key ?? ""} deepest={relief.data?.deepest_zoom ?? 16} />
          {(tracks.data ?? []).map((one) => (
            <TrackLayer key={`${one.id}${one.version}`} track={one} named={false} />
          ))}
          {(places.data ?? []).map((one) => (
            <PlaceMarker key={one.id} place={one} chosen={false} onChoose={() => undefined} />
          ))}
          <Polyline positions={[pointed.from_deg, ...along.map(at)]} className="lr-aim" weight={2.5} interactive={false} />
          <CircleMarker center={pointed.from_deg} radius={5} className="lr-stand" interactive={false} />
          {picked ? <CircleMarker center={at(picked)} radius={7} className="lr-picked" interactive={false} /> : null}
          <Hands {...props} />
        </MapContainer>
      </Box>
      <Box fontSize="12.5px" color="muted" mt="1">
        {picked ? `${picked.text} off. ` : ""}Press the line where it stands.
      </Box>
    </Box>
  );
}
