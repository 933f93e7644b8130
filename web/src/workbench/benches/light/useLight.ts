import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { api, ask, problemOf, wordsOf } from "../../../api/client";
import type { Figure, SkylineReport, YearPicture } from "../../../api/types";
import { useBench } from "../../context";

/** The scene as it stands, and a key that changes with what the light hangs on. */
function useScene() {
  const { store, state } = useBench();
  const scene = store.scene;
  const { composition } = state.draft;
  const { azimuth_deg, pitch_deg, east_m, north_m, camera_height_m, moment_utc, golden_hour } = composition;
  const elements = composition.elements.map((e) => [e.id, e.name, e.role, e.east_m, e.north_m, e.base_m, e.height_m, e.turned_deg]);
  const { focal_length_mm } = composition.settings;
  return { scene, key: [scene?.place, azimuth_deg, pitch_deg, east_m, north_m, camera_height_m, moment_utc, golden_hour, focal_length_mm, elements] as const };
}

/** The skyline strip and the sun's arrivals. */
export function useSkyline() {
  const { scene, key } = useScene();
  return useQuery({
    queryKey: ["skyline", key],
    queryFn: async () => {
      if (!scene) throw new Error("no scene");
      return (await ask(api.POST("/api/light/skyline", { body: { scene, changes: [] } }))) as SkylineReport;
    },
    enabled: scene !== null,
    placeholderData: keepPreviousData,
    gcTime: 60_000,
  });
}

/** The months ahead for the composition's own wish. */
export function useChances() {
  const { scene, key } = useScene();
  const { state } = useBench();
  const wish = state.draft.composition.light_wish;
  return useQuery({
    queryKey: ["chances", key, wish, scene?.forecast?.made_at_utc],
    queryFn: async () => {
      if (!scene) throw new Error("no scene");
      return (await ask(api.POST("/api/light/chances", { body: { scene, changes: [], wish } }))) as YearPicture;
    },
    enabled: scene !== null,
    placeholderData: keepPreviousData,
    gcTime: 60_000,
  });
}

/** The change of light after any number of minutes that is asked for. */
export function useDrift() {
  const { scene, key } = useScene();
  const [minutes, setMinutes] = useState<number | null>(null);
  const found = useQuery({
    queryKey: ["drift", key, minutes],
    queryFn: async () => {
      if (!scene || minutes === null) throw new Error("nothing asked");
      return (await ask(api.POST("/api/light/drift", { body: { scene, changes: [], minutes } }))) as Figure;
    },
    enabled: scene !== null && minutes !== null,
    retry: false,
    gcTime: 10_000,
  });
  const problem = found.isError ? problemOf(found.error) : null;
  const text = minutes === null ? "" : problem ? wordsOf(problem) : (found.data?.text ?? "");
  return { minutes, ask: setMinutes, text };
}
