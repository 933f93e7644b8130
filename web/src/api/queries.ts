import { keepPreviousData, QueryClient, queryOptions } from "@tanstack/react-query";

import { api, ApiError, ask, askAll } from "./client";
import type { TakesOut } from "./types";

export const queryClient = new QueryClient({
  defaultOptions: {
    // Whether there is a network is seen by asking, not by what the browser believes of it.
    mutations: { networkMode: "always" },
    queries: {
      networkMode: "always",
      staleTime: 30_000,
      retry: (count, error) => error instanceof ApiError && error.unreachable && error.problem.status !== 401 && count < 3,
      retryDelay: 700,
    },
  },
});

/** What an outlook of a composition hangs on, beside the composition. */
const OUTLOOKS_HANG_ON = new Set(["places", "kit", "terrains"]);

/** Have lists asked for anew, and with them what hangs on them. */
export function renew(...lists: string[]) {
  const hanging = lists.some((one) => OUTLOOKS_HANG_ON.has(one)) ? ["compositions", "outlook"] : [];
  return Promise.all([...new Set([...lists, ...hanging])].map((one) => queryClient.invalidateQueries({ queryKey: [one] })));
}

export const kitQuery = queryOptions({
  queryKey: ["kit"],
  queryFn: () =>
    askAll(
      (after) => ask(api.GET("/api/kit", { params: { query: { after } } })),
      (page) => page.items,
    ),
});

export const placesQuery = queryOptions({
  queryKey: ["places"],
  queryFn: () =>
    askAll(
      (after) => ask(api.GET("/api/places", { params: { query: { after } } })),
      (page) => page.places,
    ),
});

export const compositionsQuery = queryOptions({
  queryKey: ["compositions"],
  queryFn: () =>
    askAll(
      (after) => ask(api.GET("/api/compositions", { params: { query: { after } } })),
      (page) => page.compositions,
    ),
});

export const picturesQuery = queryOptions({
  queryKey: ["begin-pictures"],
  queryFn: async () => (await ask(api.GET("/api/beginnings/pictures"))).pictures,
  staleTime: Infinity,
});

export const usualKitQuery = queryOptions({
  queryKey: ["usual-kit"],
  queryFn: async () => (await ask(api.GET("/api/beginnings/kit"))).formats,
  staleTime: Infinity,
});

export const preferencesQuery = queryOptions({
  queryKey: ["preferences"],
  queryFn: async () => await ask(api.GET("/api/preferences")),
});

export const usualVisitQuery = queryOptions({
  queryKey: ["outings", "usual-visit"],
  queryFn: async () => await ask(api.GET("/api/outings/usual-visit")),
});

export const practiceQuery = queryOptions({
  queryKey: ["practice"],
  queryFn: async () => await ask(api.GET("/api/practice")),
});

export const valleyQuery = queryOptions({
  queryKey: ["valley"],
  queryFn: async () => await ask(api.GET("/api/beginnings/valley")),
});

export const compositionQuery = (id: string) =>
  queryOptions({
    queryKey: ["composition", id],
    queryFn: async () => await ask(api.GET("/api/compositions/{id}", { params: { path: { id } } })),
    staleTime: 0,
    gcTime: 0,
  });

export const sequenceQuery = (id: string) =>
  queryOptions({
    queryKey: ["sequence", id],
    queryFn: async () => await ask(api.GET("/api/sequences/{id}", { params: { path: { id } } })),
    staleTime: Infinity,
  });

export interface TakeFilter {
  place_id?: string;
  fault?: string;
  season?: string;
  rating?: string;
  day?: string;
  words?: string;
  after?: string;
}

export const takesQuery = (filter: TakeFilter) =>
  queryOptions({
    queryKey: ["takes", filter],
    queryFn: async () => await ask(api.GET("/api/takes", { params: { query: filter as object } })),
    placeholderData: (before: TakesOut | undefined) => before,
  });

export const calendarQuery = (year: string | null) =>
  queryOptions({
    queryKey: ["takes", "calendar", year],
    queryFn: () => ask(api.GET("/api/takes/calendar", { params: { query: year ? { year: Number(year) } : {} } })),
    placeholderData: keepPreviousData,
  });

export const placesOfTakesQuery = queryOptions({
  queryKey: ["takes", "places"],
  queryFn: () => ask(api.GET("/api/takes/places")),
});

export const worksQuery = (place: string | undefined) =>
  queryOptions({
    queryKey: ["takes", "works", place],
    queryFn: () => ask(api.GET("/api/takes/works", { params: { query: place ? { place_id: place } : {} } })),
    placeholderData: keepPreviousData,
  });

export const learningQuery = queryOptions({
  queryKey: ["learning"],
  queryFn: () => ask(api.GET("/api/learning")),
});

export const seasonsQuery = (place: string) =>
  queryOptions({
    queryKey: ["takes", "seasons", place],
    queryFn: () => ask(api.GET("/api/takes/seasons", { params: { query: { place_id: place } } })),
  });

export const takeQuery = (id: string) =>
  queryOptions({
    queryKey: ["take", id],
    queryFn: async () => await ask(api.GET("/api/takes/{id}", { params: { path: { id } } })),
  });

export const takePicturesQuery = (take: string) =>
  queryOptions({
    queryKey: ["pictures", take],
    queryFn: () =>
      askAll(
        (after) => ask(api.GET("/api/pictures", { params: { query: { take_id: take, after } } })),
        (page) => page.pictures,
      ),
  });

export const loosePicturesQuery = queryOptions({
  queryKey: ["pictures", "loose"],
  queryFn: () =>
    askAll(
      (after) => ask(api.GET("/api/pictures", { params: { query: { loose: true, after } } })),
      (page) => page.pictures,
    ),
});

export const inboxQuery = queryOptions({
  queryKey: ["inbox"],
  queryFn: () => ask(api.GET("/api/pictures/inbox")),
  staleTime: 0,
});

export const lookedQuery = (take: string) =>
  queryOptions({
    queryKey: ["looked", take],
    queryFn: () => ask(api.GET("/api/review/takes/{id}", { params: { path: { id: take } } })),
  });

export const matchesQuery = queryOptions({
  queryKey: ["matches"],
  queryFn: () => ask(api.GET("/api/review/matches")),
});

export const terrainsQuery = queryOptions({
  queryKey: ["terrains"],
  queryFn: () =>
    askAll(
      (after) => ask(api.GET("/api/terrains", { params: { query: { after } } })),
      (page) => page.terrains,
    ),
});

export const tracksQuery = queryOptions({
  queryKey: ["tracks"],
  queryFn: () =>
    askAll(
      (after) => ask(api.GET("/api/tracks", { params: { query: { after } } })),
      (page) => page.tracks,
    ),
});

/** What the map of all terrains is drawn from; under the terrains' key, so that it is asked anew with them. */
export const reliefQuery = queryOptions({
  queryKey: ["terrains", "relief"],
  queryFn: async () => {
    const { relief_key, deepest_zoom } = await ask(api.GET("/api/terrains", { params: { query: { limit: 1 } } }));
    return { relief_key, deepest_zoom };
  },
});

export const forecastQuery = (placeId: string, start: string) =>
  queryOptions({
    queryKey: ["forecast", placeId, start],
    queryFn: async () => {
      const answer = await ask(api.GET("/api/places/{id}/forecast", { params: { path: { id: placeId }, query: { start } } }));
      return { forecast: answer.forecast ?? null, trouble: answer.trouble };
    },
    staleTime: 600_000,
  });

export const devicesQuery = queryOptions({
  queryKey: ["devices"],
  queryFn: async () => (await ask(api.GET("/api/account/devices"))).devices,
});

export const peopleQuery = queryOptions({
  queryKey: ["people"],
  queryFn: async () => await ask(api.GET("/api/people")),
});

export const jobsQuery = queryOptions({
  queryKey: ["jobs"],
  queryFn: async () => (await ask(api.GET("/api/jobs"))).jobs,
  staleTime: 0,
});

export const sharesQuery = queryOptions({
  queryKey: ["shares"],
  queryFn: async () => await ask(api.GET("/api/shares")),
});

export const shareQuery = (id: string) =>
  queryOptions({
    queryKey: ["shares", id],
    queryFn: async () => await ask(api.GET("/api/shares/{id}", { params: { path: { id } } })),
  });

export const backupsQuery = queryOptions({
  queryKey: ["backups"],
  queryFn: async () => await ask(api.GET("/api/backups")),
});

export const outingsQuery = queryOptions({
  queryKey: ["outings"],
  queryFn: async () => (await ask(api.GET("/api/outings"))).outings,
  staleTime: 0,
});

export const outingQuery = (id: string) =>
  queryOptions({
    queryKey: ["outing", id],
    queryFn: async () => await ask(api.GET("/api/outings/{id}", { params: { path: { id } } })),
    staleTime: 0,
    gcTime: 0,
  });

export const nextOutingQuery = (units: "metric" | "feet") =>
  queryOptions({
    queryKey: ["outings", "next", units],
    queryFn: async () => await ask(api.GET("/api/outings/next", { params: { query: { units } } })),
    staleTime: 60_000,
  });

export const spotsQuery = (compositionId: string) =>
  queryOptions({
    queryKey: ["spots", compositionId],
    queryFn: async () => (await ask(api.GET("/api/spots", { params: { query: { composition_id: compositionId } } }))).spots,
  });
