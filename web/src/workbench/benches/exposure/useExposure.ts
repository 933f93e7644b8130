import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { api, ask } from "../../../api/client";
import type { ExposureStudy } from "../../../api/types";
import { useBench } from "../../context";

/** The study of exposure, for a time to reach and a wind where they are told. */
export function useExposure(wanted_s: number | null, wind_m_s: number | null) {
  const { store } = useBench();
  const scene = store.scene;
  return useQuery({
    queryKey: ["exposure", scene, wanted_s, wind_m_s],
    queryFn: async () => {
      if (!scene) throw new Error("no scene");
      return (await ask(api.POST("/api/exposure", { body: { scene, changes: [], wanted_s, wind_m_s } }))) as ExposureStudy;
    },
    enabled: scene !== null,
    placeholderData: keepPreviousData,
    gcTime: 10_000,
  });
}
