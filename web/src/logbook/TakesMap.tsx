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

const over = (a: DOMRect, b: DOMRect) => a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom;

/** Of names that lie over each other the one with the most takes stays; the others come out by zooming in. */
function ClearNames() {
  const map = useMap();
  useEffect(() => {
    const clear = () => {
      const names = [...map.getContainer().querySelectorAll<HTMLElement>(".lr-counted-name")];
      const order = names
        .map((one) => ({ one, takes: Number(one.dataset.takes), at: one.getBoundingClientRect() }))
        .sort((a, b) => b.takes - a.takes);
      const kept: DOMRect[] = [];
      for (const { one, at } of order) {
        const hidden = kept.some((other) => over(at, other));
        one.style.visibility = hidden ? "hidden" : "";
        if (!hidden) kept.push(at);
      }
    };
    clear();
    map.on("zoomend moveend", clear);
    return () => {
      map.off("zoomend moveend", clear);
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
            title={`${one.name}: ${one.takes} ${one.takes === 1 ? "take" : "takes"}, ${one.mean_text}`}
            alt={`${one.name}: ${one.takes} ${one.takes === 1 ? "take" : "takes"}, ${one.mean_text}`}
            eventHandlers={{ click: () => choose(one.id) }}
          />
        ))}
        <ClearNames />
      </MapContainer>
    </Box>
  );
}
