import "leaflet/dist/leaflet.css";

import { Box } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import L from "leaflet";
import { useEffect, useMemo, useRef } from "react";
import { MapContainer, Marker, Polyline, ScaleControl, useMap } from "react-leaflet";

import { reliefQuery, terrainsQuery, tracksQuery } from "../api/queries";
import type { PlanShown } from "../api/types";
import { Relief, sign, STAND, TrackLayer } from "../map/layers";

const START = "M3 16V3H14L11 6.500L14 10H3";

interface Signed {
  key: string;
  at: L.LatLngTuple;
  text: string;
  chosen: boolean;
  start: boolean;
}

function signsOf(plan: PlanShown, chosen: string | undefined): Signed[] {
  const made: Signed[] = plan.spots.map((one) => ({
    key: `spot ${one.name}`,
    at: [...one.position],
    text: one.name,
    chosen: false,
    start: true,
  }));
  // Several stand within metres of one another: they share a sign.
  for (const visit of plan.days.flatMap((day) => day.visits)) {
    const near = made.find((one) => !one.start && L.latLng(one.at).distanceTo([...visit.position]) < 40);
    if (near) {
      near.text += `, ${visit.first.text}`;
      near.chosen ||= visit.visit_id === chosen;
    } else
      made.push({
        key: visit.visit_id,
        at: [...visit.position],
        text: `${visit.first.text}`,
        chosen: visit.visit_id === chosen,
        start: false,
      });
  }
  return made;
}

function Fit({ plan }: { plan: PlanShown }) {
  const map = useMap();
  const fitted = useRef("");
  useEffect(() => {
    const around = L.latLngBounds([]);
    for (const one of plan.spots) around.extend([...one.position]);
    for (const day of plan.days) for (const visit of day.visits) around.extend([...visit.position]);
    const key = around.isValid() ? around.toBBoxString() : "";
    if (!key || fitted.current === key) return;
    fitted.current = key;
    map.fitBounds(around, { animate: false, maxZoom: 15, padding: [34, 34] });
  }, [map, plan]);
  return null;
}

function SignMarker({ one }: { one: Signed }) {
  const icon = useMemo(() => sign(one.start ? START : STAND, one.text, one.chosen), [one.start, one.text, one.chosen]);
  return <Marker position={one.at} icon={icon} title={one.text} alt={one.text} interactive={false} />;
}

/** The ways of an outing over the places' own relief. Ways by lamp are dotted, drives broken. */
export default function OutingMap({ plan, chosen, high }: { plan: PlanShown; chosen: string | undefined; high: string }) {
  const terrains = useQuery(terrainsQuery);
  const tracks = useQuery(tracksQuery);
  const relief = useQuery({ ...reliefQuery, enabled: (terrains.data ?? []).length > 0 });
  const ready = useMemo(() => (terrains.data ?? []).filter((one) => one.state === "ready"), [terrains.data]);
  const legs = plan.days.flatMap((day) => [...day.visits.map((one) => one.way_there), ...(day.way_back ? [day.way_back] : [])]);
  return (
    <Box h={high} position="relative" zIndex={0} borderWidth="1px" borderColor="line" data-testid="outing-map">
      <MapContainer center={[0, 0]} zoom={3} maxZoom={18} attributionControl={false} style={{ height: "100%" }}>
        <ScaleControl position="bottomleft" />
        <Fit plan={plan} />
        <Relief terrains={ready} reliefKey={relief.data?.relief_key ?? ""} deepest={relief.data?.deepest_zoom ?? 16} />
        {(tracks.data ?? []).map((one) => (
          <TrackLayer key={`${one.id}${one.version}`} track={one} named={false} />
        ))}
        {legs.flatMap((leg, k) =>
          leg.lines.map((line, j) => (
            <Polyline
              key={`${k} ${j} ${leg.leaves.at_utc} ${leg.dark}`}
              positions={line.map(([a, b]) => [a, b] as L.LatLngTuple)}
              className="lr-aim"
              weight={3.5}
              lineCap="round"
              interactive={false}
              {...(leg.dark
                ? { dashArray: "1 7" }
                : leg.by.some((by) => by === "car" || by === "boat")
                  ? { dashArray: "12 6" }
                  : {})}
            />
          )),
        )}
        {signsOf(plan, chosen).map((one) => (
          <SignMarker key={one.key} one={one} />
        ))}
      </MapContainer>
    </Box>
  );
}
