import { keepPreviousData, useQuery } from "@tanstack/react-query";

import type { Scene } from "../api/types";
import { useBench } from "./context";

/** A study of the scene as it stands, asked for anew with each revision of the scene, and with what else it hangs on. */
export function useStudy<T>(
  name: string,
  also: readonly unknown[],
  study: (scene: Scene) => Promise<T>,
  { wanted = true, retry = true } = {},
) {
  const { store, state } = useBench();
  const scene = store.scene;
  return useQuery({
    queryKey: [name, store.id, state.revision, ...also],
    queryFn: async () => {
      if (!scene) throw new Error("no scene");
      return study(scene);
    },
    enabled: scene !== null && wanted,
    placeholderData: keepPreviousData,
    ...(retry ? {} : { retry: false }),
    gcTime: 10_000,
  });
}
