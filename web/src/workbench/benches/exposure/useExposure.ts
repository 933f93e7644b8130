import { api, ask } from "../../../api/client";
import { useStudy } from "../../useStudy";

/** The study of exposure, for a time to reach and a wind where they are told. */
export function useExposure(wanted_s: number | null, wind_m_s: number | null) {
  return useStudy(
    "exposure",
    [wanted_s, wind_m_s],
    async (scene) => await ask(api.POST("/api/exposure", { body: { scene, changes: [], wanted_s, wind_m_s } })),
  );
}
