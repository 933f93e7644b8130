import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";

import { api, ask } from "../api/client";
import { queryClient } from "../api/queries";
import type { CompositionBrief, OutlookOut } from "../api/types";

const AT_ONCE = 12;

interface Waiting {
  id: string;
  resolve: (found: OutlookOut | null) => void;
  reject: (reason: unknown) => void;
}

let waiting: Waiting[] = [];
let sending = false;

async function send() {
  while (waiting.length > 0) {
    const batch = waiting.slice(0, AT_ONCE);
    waiting = waiting.slice(AT_ONCE);
    try {
      const { outlooks } = await ask(api.POST("/api/outlooks", { body: { ids: batch.map((one) => one.id) } }));
      for (const one of batch) one.resolve(outlooks.find((found) => found.id === one.id) ?? null);
    } catch (error) {
      for (const one of batch) one.reject(error);
    }
  }
}

/** Ask for an outlook; what is asked for at the same time goes together, a few at once. */
function askOutlook(id: string): Promise<OutlookOut | null> {
  return new Promise((resolve, reject) => {
    waiting.push({ id, resolve, reject });
    if (sending) return;
    sending = true;
    window.setTimeout(() => void send().finally(() => (sending = false)), 20);
  });
}

export const outlookQuery = (one: CompositionBrief) => ({
  queryKey: ["outlook", one.id, one.updated_at],
  queryFn: () => askOutlook(one.id),
  staleTime: 300_000,
});

/** How a composition looks and when its light comes, once it comes into sight. */
export function useOutlook(one: CompositionBrief) {
  const box = useRef<HTMLDivElement>(null);
  const [seen, setSeen] = useState(false);
  useEffect(() => {
    const watched = box.current;
    if (!watched || seen) return;
    const watcher = new IntersectionObserver((entries) => entries.some((entry) => entry.isIntersecting) && setSeen(true), {
      rootMargin: "300px",
    });
    watcher.observe(watched);
    return () => watcher.disconnect();
  }, [seen]);
  const found = useQuery({ ...outlookQuery(one), enabled: seen });
  return { box, outlook: found.data ?? null, failed: found.isError };
}

/** Have the lights worked out that nobody knows yet, a few at a time, while nothing else is asked; then list anew. */
export function useFillOutlooks(all: CompositionBrief[] | undefined) {
  useEffect(() => {
    const lacking = (all ?? []).filter((one) => !one.outlook_known);
    if (lacking.length === 0) return;
    let stopped = false;
    void (async () => {
      await new Promise((rest) => window.setTimeout(rest, 1500));
      for (let i = 0; i < lacking.length && !stopped; i += AT_ONCE) {
        const some = lacking.slice(i, i + AT_ONCE);
        await Promise.allSettled(some.map((one) => queryClient.fetchQuery(outlookQuery(one))));
      }
      if (!stopped) await queryClient.invalidateQueries({ queryKey: ["compositions"] });
    })();
    return () => {
      stopped = true;
    };
  }, [all]);
}
