import { useMutation } from "@tanstack/react-query";

import { api, ask } from "../api/client";
import { queryClient } from "../api/queries";
import type { Picture } from "../api/types";
import { notifyTrouble } from "../shell/notices";

export type Judged = Partial<Pick<Picture, "rating" | "verdict">>;

/** Saves how good a picture is; it is seen at once, and put back where it could not be saved. */
export function useJudging(list: readonly string[]) {
  const put = (saved: Picture) =>
    queryClient.setQueryData<Picture[]>(list, (all) => all?.map((one) => (one.id === saved.id ? saved : one)));
  return useMutation({
    scope: { id: "judging" },
    mutationFn: async ({ id, ...judged }: Judged & { id: string }) => {
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

const RATES = ["0", "1", "2", "3", "4", "5"];

/** What a key says of a picture; undefined where it says nothing. */
export function judgedBy(key: string, picture: Picture): Judged | undefined {
  if (RATES.includes(key)) return { rating: key === "0" ? null : Number(key) };
  if (key === "k") return { verdict: picture.verdict === "keep" ? null : "keep" };
  if (key === "x") return { verdict: picture.verdict === "reject" ? null : "reject" };
  return undefined;
}
