import { useState } from "react";

import { api, ask, problemOf, wordsOf } from "../../../api/client";
import { useBench } from "../../context";
import { useStudy } from "../../useStudy";

/** The skyline strip and the sun's arrivals. */
export function useSkyline() {
  return useStudy("skyline", [], async (scene) => await ask(api.POST("/api/light/skyline", { body: { scene, changes: [] } })));
}

/** The months ahead for the composition's own wish. */
export function useChances() {
  const wish = useBench().state.draft.composition.light_wish;
  return useStudy(
    "windows",
    [],
    async (scene) => await ask(api.POST("/api/light/windows", { body: { scene, changes: [], wish } })),
  );
}

/** The change of light after any number of minutes that is asked for. */
export function useDrift() {
  const [minutes, setMinutes] = useState<number | null>(null);
  const found = useStudy(
    "drift",
    [minutes],
    async (scene) => {
      if (minutes === null) throw new Error("nothing asked");
      return await ask(api.POST("/api/light/drift", { body: { scene, changes: [], minutes } }));
    },
    { wanted: minutes !== null, retry: false },
  );
  const problem = found.isError ? problemOf(found.error) : null;
  const text = minutes === null ? "" : problem ? wordsOf(problem) : (found.data?.text ?? "");
  return { minutes, ask: setMinutes, text };
}
