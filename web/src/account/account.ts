import { queryOptions } from "@tanstack/react-query";

import { api, ask } from "../api/client";
import { queryClient } from "../api/queries";
import type { Who } from "../api/types";
import { keep, readKept, setWhose } from "../shell/kept";

const KEY = "lucid-ridge/account";

function known(): Who | undefined {
  try {
    const kept = JSON.parse(readKept(KEY) ?? "null") as Who | null;
    return kept && typeof kept.accounts === "boolean" ? kept : undefined;
  } catch {
    return undefined;
  }
}

/** Take it that this is who asks: what this browser keeps from now on is theirs. */
function remember(who: Who): Who {
  keep(KEY, JSON.stringify(who));
  setWhose(who.accounts ? who.id : null);
  return who;
}

/** Who asked last on this device: good enough to begin with, and all there is without a network. */
export const lastKnown = known();
if (lastKnown) setWhose(lastKnown.accounts ? lastKnown.id : null);

// Somebody else signed in on another page of this browser: what is on this one is not theirs to save.
window.addEventListener("storage", (event) => {
  if (event.key === KEY && known()?.id !== (queryClient.getQueryData<Who>(["account"]) ?? lastKnown)?.id)
    window.location.assign("/");
});

export const accountQuery = queryOptions({
  queryKey: ["account"],
  queryFn: async () => {
    const who = await ask(api.GET("/api/account"));
    // Signed out, the last one is remembered: what they kept here is still theirs.
    return who.role === null ? who : remember(who);
  },
  staleTime: Infinity,
});

/** Who asks, as far as it is known by now: without waiting for the server, who it was last on this device. */
export const whoAsks = (): Who | undefined => queryClient.getQueryData<Who>(accountQuery.queryKey) ?? lastKnown;

/** Somebody has signed in. Another one than before begins on a fresh page, with nothing of the other's on it. */
export function signedIn(who: Who, onto?: string) {
  const before = known();
  remember(who);
  if (onto !== undefined || (before?.role != null && before.id !== who.id)) {
    window.location.assign(onto ?? "/");
    return;
  }
  queryClient.setQueryData(accountQuery.queryKey, who);
  void queryClient.invalidateQueries();
}

/** Leave this device: nothing that was fetched stays on the page. */
export async function signOut(everywhere: boolean) {
  await ask(api.POST(everywhere ? "/api/account/sign-out-everywhere" : "/api/account/sign-out"));
  window.location.assign("/");
}
