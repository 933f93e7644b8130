import { useMutation } from "@tanstack/react-query";

import { api, ask } from "../api/client";
import { queryClient } from "../api/queries";
import type { Picture } from "../api/types";
import { notifyTrouble } from "../shell/notices";
import type { Judged } from "./keys";

type Changed = Judged & { keywords?: string[] };

/** Saves how good a picture is; it is seen at once, and put back where it could not be saved. */
export function useJudging(list: readonly string[]) {
  const put = (saved: Picture) =>
    queryClient.setQueryData<Picture[]>(list, (all) => all?.map((one) => (one.id === saved.id ? saved : one)));
  return useMutation({
    scope: { id: "judging" },
    mutationFn: async ({ id, ...judged }: Changed & { id: string }) => {
      const now = queryClient.getQueryData<Picture[]>(list)?.find((one) => one.id === id);
      if (!now) throw new Error("This picture is not here any more.");
      const body = { version: now.version, rating: now.rating, verdict: now.verdict, ...judged };
      return await ask(api.PUT("/api/pictures/{id}/judged", { params: { path: { id } }, body }));
    },
    onMutate: ({ id, ...judged }) => {
      const before = queryClient.getQueryData<Picture[]>(list)?.find((one) => one.id === id);
      if (before) put({ ...before, ...judged });
    },
    onSuccess: put,
    onError: (error) => {
      notifyTrouble(error);
      void queryClient.invalidateQueries({ queryKey: list });
    },
  });
}
