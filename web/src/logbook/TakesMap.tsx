import "leaflet/dist/leaflet.css";

import { Box } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import L from "leaflet";
import { useEffect } from "react";
import { MapContainer, Marker, ScaleControl, useMap } from "react-leaflet";

import { placesOfTakesQuery, reliefQuery, terrainsQuery } from "../api/queries";
import type { PlaceOfTakes } from "../api/types";
import { Relief } from "../map/layers";
import { Empty, Loading, Trouble } from "../shell/states";

const LEAST_PX = 24;
const MORE_PX = 2.5;
const GAP_PX = 3;
/** The line around a disk: what lies in it is placed from within. */
const EDGE_PX = 2;

/** A disk as large as there are takes, with their number; names go in as text. */
function disk(place: PlaceOfTakes): L.DivIcon {
  const side = LEAST_PX + MORE_PX * Math.log2(place.takes);
  const box = document.createElement("div");
  box.className = "lr-counted";
  box.style.width = box.style.height = `${side}px`;
  box.textContent = String(place.takes);
  const name = document.createElement("span");
  name.className = "lr-counted-name";
  name.textContent = place.name;
  name.dataset.takes = String(place.takes);
  box.append(name);
  return L.divIcon({ html: box, className: "", iconSize: [side, side] });
}

function Fit({ places }: { places: readonly PlaceOfTakes[] }) {
  const map = useMap();
  useEffect(() => {
    const around = L.latLngBounds(places.map((one) => [one.latitude_deg, one.longitude_deg] as L.LatLngTuple));
    if (around.isValid()) map.fitBounds(around, { animate: false, maxZoom: 13, padding: [70, 70] });
  }, [map, places]);
  return null;
}

interface Area {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

const over = (a: Area, b: Area) => a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom;

/** Upper left corners of a name so wide and high: below its disk, above, beside it, then from its middle on to either side. */
function sides(disk: Area, wide: number, high: number) {
  const [x, y] = [(disk.left + disk.right) / 2, (disk.top + disk.bottom) / 2];
  return [
    [x - wide / 2, disk.bottom],
    [x - wide / 2, disk.top - high],
    [disk.right + GAP_PX, y - high / 2],
    [disk.left - GAP_PX - wide, y - high / 2],
    [x, disk.top - high],
    [x, disk.bottom],
    [x - wide, disk.top - high],
    [x - wide, disk.bottom],
  ] as const;
}

/** Names go where nothing lies, those with the most takes first; one that finds no room comes out by zooming in. */
function Names() {
  const map = useMap();
  useEffect(() => {
    const put = () => {
      const marks = [...map.getContainer().querySelectorAll<HTMLElement>(".lr-counted")].map((box) => {
        const name = box.lastElementChild as HTMLElement;
        return { name, takes: Number(name.dataset.takes), disk: box.getBoundingClientRect(), size: name.getBoundingClientRect() };
      });
      const taken: Area[] = marks.map((one) => one.disk);
      for (const { name, disk, size } of marks.sort((a, b) => b.takes - a.takes)) {
        const free = sides(disk, size.width, size.height)
          .map(([left, top]) => ({ left, top, right: left + size.width, bottom: top + size.height }))
          .find((area) => !taken.some((other) => over(area, other)));
        name.style.visibility = free ? "" : "hidden";
        if (!free) continue;
        name.style.left = `${free.left - disk.left - EDGE_PX}px`;
        name.style.top = `${free.top - disk.top - EDGE_PX}px`;
        taken.push(free);
      }
    };
    put();
    map.on("zoomend moveend", put);
    return () => {
      map.off("zoomend moveend", put);
    };
    // Anew whenever the map is drawn: its marks are new then.
  });
  return null;
}

/** Where takes were made: a disk at each place, and a press shows its takes. */
export function TakesMap({ choose }: { choose: (place: string) => void }) {
  const places = useQuery(placesOfTakesQuery);
  const terrains = useQuery(terrainsQuery);
  const ready = (terrains.data ?? []).filter((one) => one.state === "ready");
  const relief = useQuery({ ...reliefQuery, enabled: ready.length > 0 });
  if (places.isError && !places.data) return <Trouble error={places.error} again={() => void places.refetch()} />;
  if (!places.data) return <Loading what="the map" />;
  if (places.data.places.length === 0)
    return <Empty title="No takes yet">The places where you photographed will be marked here.</Empty>;
  return (
    <Box h="520px" borderWidth="1px" borderColor="line" data-testid="takes-map">
      <MapContainer center={[0, 0]} zoom={2} style={{ height: "100%" }} attributionControl={false} worldCopyJump>
        <Fit places={places.data.places} />
        <ScaleControl imperial={false} />
        {relief.data && <Relief terrains={ready} reliefKey={relief.data.relief_key} deepest={relief.data.deepest_zoom} />}
        {places.data.places.map((one) => (
          <Marker
            key={one.id}
            position={[one.latitude_deg, one.longitude_deg]}
            icon={disk(one)}
            zIndexOffset={one.takes * 10}
            title={`${one.name}: ${one.takes} ${one.takes === 1 ? "take" : "takes"}, ${one.mean_text}`}
            alt={`${one.name}: ${one.takes} ${one.takes === 1 ? "take" : "takes"}, ${one.mean_text}`}
            eventHandlers={{ click: () => choose(one.id) }}
          />
        ))}
        <Names />
      </MapContainer>
    </Box>
  );
}
