import { QueryClient, queryOptions } from "@tanstack/react-query";

import { api, ApiError, ask } from "./client";
import type { CompositionBrief, CompositionOut, ContoursOut, Forecast, KitItemOut, PlaceOut, SequenceOut, TakeOut, TakesOut, TerrainOut, TrackOut } from "./types";

export const queryClient = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 30_000,
      retry: (count, error) => error instanceof ApiError && error.unreachable && count < 3,
      retryDelay: 700,
    },
  },
});

export const kitQuery = queryOptions({
  queryKey: ["kit"],
  queryFn: async () => (await ask(api.GET("/api/kit"))).items as KitItemOut[],
});

export const placesQuery = queryOptions({
  queryKey: ["places"],
  queryFn: async () => (await ask(api.GET("/api/places"))).places as PlaceOut[],
});

export const compositionsQuery = queryOptions({
  queryKey: ["compositions"],
  queryFn: async () => (await ask(api.GET("/api/compositions"))).compositions as CompositionBrief[],
});

export const compositionQuery = (id: string) =>
  queryOptions({
    queryKey: ["composition", id],
    queryFn: async () => (await ask(api.GET("/api/compositions/{id}", { params: { path: { id } } }))) as CompositionOut,
    staleTime: 0,
    gcTime: 0,
  });

export const sequenceQuery = (id: string) =>
  queryOptions({
    queryKey: ["sequence", id],
    queryFn: async () => (await ask(api.GET("/api/sequences/{id}", { params: { path: { id } } }))) as SequenceOut,
    staleTime: Infinity,
  });

export interface TakeFilter {
  place_id?: string;
  fault?: string;
  offset?: number;
}

export const takesQuery = (filter: TakeFilter) =>
  queryOptions({
    queryKey: ["takes", filter],
    queryFn: async () => (await ask(api.GET("/api/takes", { params: { query: filter as object } }))) as TakesOut,
    placeholderData: (before: TakesOut | undefined) => before,
  });

export const takeQuery = (id: string) =>
  queryOptions({
    queryKey: ["take", id],
    queryFn: async () => (await ask(api.GET("/api/takes/{id}", { params: { path: { id } } }))) as TakeOut,
  });

export const terrainsQuery = queryOptions({
  queryKey: ["terrains"],
  queryFn: async () => (await ask(api.GET("/api/terrains"))).terrains as TerrainOut[],
});

export const tracksQuery = queryOptions({
  queryKey: ["tracks"],
  queryFn: async () => (await ask(api.GET("/api/tracks"))).tracks as TrackOut[],
});

export const contoursQuery = (id: string) =>
  queryOptions({
    queryKey: ["contours", id],
    queryFn: async () => (await ask(api.GET("/api/terrains/{id}/contours", { params: { path: { id } } }))) as ContoursOut,
    staleTime: Infinity,
  });

export const forecastQuery = (placeId: string, start: string) =>
  queryOptions({
    queryKey: ["forecast", placeId, start],
    queryFn: async () => {
      const answer = await ask(api.GET("/api/places/{id}/forecast", { params: { path: { id: placeId }, query: { start } } }));
      return { forecast: (answer.forecast ?? null) as Forecast | null, trouble: answer.trouble };
    },
    staleTime: 600_000,
  });
