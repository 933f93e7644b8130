import { hashKey, hydrate } from "@tanstack/react-query";

import { queryClient } from "../api/queries";
import { boardItems } from "./store";

/** Have the pages find what is on board as if it had just been asked for; the server's own answers take its place. */
export async function hydrateFromBoard(): Promise<void> {
  for (const item of (await boardItems()).reverse())
    hydrate(
      queryClient,
      {
        mutations: [],
        queries: item.answers.map(({ key, data, at }) => ({
          queryKey: key,
          queryHash: hashKey(key),
          dehydratedAt: at,
          state: {
            data,
            dataUpdateCount: 0,
            dataUpdatedAt: at,
            error: null,
            errorUpdateCount: 0,
            errorUpdatedAt: 0,
            fetchFailureCount: 0,
            fetchFailureReason: null,
            fetchMeta: null,
            // Good enough to begin with, and asked for anew at once: what was made since is not in it.
            isInvalidated: true,
            status: "success" as const,
            fetchStatus: "idle" as const,
          },
        })),
      },
      { defaultOptions: { queries: { gcTime: Infinity } } },
    );
}
