import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useMemo } from "react";

import { api, ask } from "../../../api/client";
import { kitQuery } from "../../../api/queries";
import type { CloseUpReport, SharpnessStudy } from "../../../api/types";
import { useBench } from "../../context";

/** The study of depth for the scene as it stands. */
export function useSharpness() {
  const { store } = useBench();
  const scene = store.scene;
  return useQuery({
    queryKey: ["sharpness", scene],
    queryFn: async () => {
      if (!scene) throw new Error("no scene");
      return (await ask(api.POST("/api/sharpness", { body: { scene, changes: [] } }))) as SharpnessStudy;
    },
    enabled: scene !== null,
    placeholderData: keepPreviousData,
    gcTime: 10_000,
  });
}

/** The lenses owned, in the order of the kit, with their ids. */
export function useLenses() {
  const kit = useQuery(kitQuery);
  return useMemo(() => (kit.data ?? []).flatMap(({ id, item }) => (item.kind === "lens" ? [{ id, details: item.details }] : [])), [kit.data]);
}

/** The close-up study, with every lens owned beside the one in use. */
export function useCloseUp() {
  const { store } = useBench();
  const scene = store.scene;
  const lenses = useLenses();
  return useQuery({
    queryKey: ["close-up", scene, lenses],
    queryFn: async () => {
      if (!scene) throw new Error("no scene");
      return (await ask(api.POST("/api/close-up", { body: { scene, changes: [], lenses: lenses.map((one) => one.details) } }))) as CloseUpReport;
    },
    enabled: scene !== null,
    placeholderData: keepPreviousData,
    gcTime: 10_000,
  });
}
