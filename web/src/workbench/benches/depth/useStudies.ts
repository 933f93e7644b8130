import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";

import { api, ask } from "../../../api/client";
import { kitQuery } from "../../../api/queries";
import { useStudy } from "../../useStudy";

/** The study of depth for the scene as it stands. */
export function useSharpness() {
  return useStudy("sharpness", [], async (scene) => await ask(api.POST("/api/sharpness", { body: { scene, changes: [] } })));
}

/** The lenses owned, in the order of the kit, with their ids. */
export function useLenses() {
  const kit = useQuery(kitQuery);
  return useMemo(
    () => (kit.data ?? []).flatMap(({ id, item }) => (item.kind === "lens" ? [{ id, details: item.details }] : [])),
    [kit.data],
  );
}

/** The close-up study, with every lens owned beside the one in use; a change of the kit is a revision of the scene too. */
export function useCloseUp() {
  const lenses = useLenses().map((one) => one.details);
  return useStudy("close-up", [], async (scene) => await ask(api.POST("/api/close-up", { body: { scene, changes: [], lenses } })));
}
