import L from "leaflet";
import { useMemo } from "react";
import { ImageOverlay, Marker, Pane, Polyline, Rectangle, TileLayer } from "react-leaflet";

import type { CompositionBrief, PlaceOut, TerrainOut, TrackOut } from "../api/types";

const bounds = (one: TerrainOut): L.LatLngBoundsLiteral => [
  [one.south_deg, one.west_deg],
  [one.north_deg, one.east_deg],
];

/** The ground of all terrains under one relief: shading, tint and contours, the finest on top. */
export function Relief({ terrains, reliefKey, deepest }: { terrains: TerrainOut[]; reliefKey: string; deepest: number }) {
  if (terrains.length === 0) return null;
  const around = L.latLngBounds(terrains.flatMap((one) => bounds(one) as L.LatLngTuple[]));
  return (
    <>
      <Pane name="land" style={{ zIndex: 190 }}>
        {terrains.map((one) => (
          <Rectangle key={one.id} bounds={bounds(one)} className="lr-land" weight={1} fillOpacity={1} interactive={false} />
        ))}
      </Pane>
      <TileLayer
        key={reliefKey}
        url={`/api/terrains/relief/{z}/{x}/{y}?v=${reliefKey}`}
        bounds={around}
        maxNativeZoom={deepest}
        maxZoom={20}
        keepBuffer={3}
      />
    </>
  );
}

/** What of a terrain lies in shade at a moment. */
export function ShadeLayer({ terrain, at }: { terrain: TerrainOut; at: string }) {
  return (
    <ImageOverlay
      url={`/api/terrains/${terrain.id}/shade?at=${encodeURIComponent(at)}`}
      bounds={bounds(terrain)}
      zIndex={5}
      alt="ground in the terrain's shade"
    />
  );
}

const SIGNS: Record<string, string> = {
  parking: "M2 2H16V16H2ZM6 13V5H10A2.500 2.500 0 0 1 10 10H6",
  gate: "M2 4V16M16 4V16M2 7H16M2 13H16M4 13L14 7",
  hazard: "M9 2L17 16H1ZM9 7V11.500M9 13V14.500",
  viewpoint: "M1 9Q9 2 17 9Q9 16 1 9ZM9 6.500A2.500 2.500 0 1 1 9 11.500A2.500 2.500 0 1 1 9 6.500",
  walk_in: "M3 15L8 9L11 11L15 3",
  other: "M9 3A6 6 0 1 1 9 15A6 6 0 1 1 9 3",
};

/** A drawn sign with a name beside it. Names go in as text, never as markup. */
export function sign(path: string, name: string, strong: boolean): L.DivIcon {
  const box = document.createElement("div");
  box.className = "lr-mark";
  box.dataset["strong"] = strong ? "yes" : "no";
  const svg = document.createElementNS("http://www.w3.org/2000/svg", "svg");
  for (const [key, value] of Object.entries({
    width: "20",
    height: "20",
    viewBox: "0 0 18 18",
    fill: "var(--lr-colors-panel)",
    stroke: strong ? "var(--lr-colors-rust)" : "var(--lr-colors-ink)",
    "stroke-width": strong ? "2.4" : "1.6",
  }))
    svg.setAttribute(key, value);
  const drawn = document.createElementNS("http://www.w3.org/2000/svg", "path");
  drawn.setAttribute("d", path);
  svg.append(drawn);
  const words = document.createElement("span");
  words.textContent = name;
  box.append(svg, words);
  return L.divIcon({ html: box, className: "", iconSize: [20, 20], iconAnchor: [10, 10] });
}

const PLACE = "M9 1L16 8L9 17L2 8Z";
export const STAND = "M9 4L4 16M9 4L14 16M9 4V15M5 3H13V6H5Z";

export function PlaceMarker({ place, chosen, onChoose }: { place: PlaceOut; chosen: boolean; onChoose: () => void }) {
  const icon = useMemo(() => sign(PLACE, place.place.name, chosen), [place.place.name, chosen]);
  return (
    <Marker
      position={[place.place.latitude_deg, place.place.longitude_deg]}
      icon={icon}
      title={place.place.name}
      alt={`place ${place.place.name}`}
      eventHandlers={{ click: onChoose }}
      zIndexOffset={100}
    />
  );
}

/** A standpoint and where it looks. Its name is told on hover: several stand within metres of one another. */
export function StandMarker({ one, onOpen }: { one: CompositionBrief; onOpen: () => void }) {
  const icon = useMemo(() => sign(STAND, "", false), []);
  const at: L.LatLngTuple = [one.latitude_deg, one.longitude_deg];
  return (
    <>
      <Polyline positions={[at, one.looks_to]} className="lr-aim" weight={2} dashArray="5 4" interactive={false} />
      <Marker position={at} icon={icon} title={one.name} alt={`standpoint ${one.name}`} eventHandlers={{ click: onOpen }} />
    </>
  );
}

export function TrackLayer({ track, named }: { track: TrackOut; named: boolean }) {
  const icon = useMemo(() => sign(SIGNS[track.sort] ?? "", named ? track.name : "", false), [track.sort, track.name, named]);
  const points = track.points.map(([latitude, longitude]) => [latitude, longitude] as L.LatLngTuple);
  const first = points[0];
  if (track.kind === "mark") return first ? <Marker position={first} icon={icon} title={track.name} alt={track.name} /> : null;
  return (
    <Polyline
      positions={points}
      className="lr-path"
      weight={2.5}
      dashArray={track.sort === "walk_in" ? "1 6" : "8 5"}
      lineCap="round"
    />
  );
}
