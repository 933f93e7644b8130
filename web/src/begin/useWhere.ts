import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { api, ask } from "../api/client";

/** A new place as it is put in: its name, and its position as somebody writes or pastes it. */
export interface NewPlaceTyped {
  name: string;
  position: string;
}

/** A first guess at where somebody is, from the time zone of the browser; what is typed goes before it. */
export function useWhere(start?: NewPlaceTyped) {
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone || "UTC";
  const [typed, setTyped] = useState<Partial<NewPlaceTyped>>(start ?? {});
  const guess = useQuery({
    queryKey: ["about-here", zone],
    queryFn: async () => ask(api.GET("/api/beginnings/about-here", { params: { query: { zone } } })),
    staleTime: Infinity,
  });
  const known = guess.data?.known ? guess.data : null;
  const guessed: NewPlaceTyped = known
    ? { name: `Near ${known.town}`, position: `${known.latitude_deg.toFixed(4)}, ${known.longitude_deg.toFixed(4)}` }
    : { name: "", position: "" };
  return {
    name: typed.name ?? guessed.name,
    position: typed.position ?? guessed.position,
    isGuess: known !== null && typed.position === undefined,
    put: (part: Partial<NewPlaceTyped>) => setTyped((now) => ({ ...now, ...part })),
  };
}
