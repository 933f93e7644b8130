import { accountQuery } from "../account/account";
import { queryClient } from "../api/queries";
import type { Act } from "../shell/RareActs";
import { askToShare, type ToShare } from "./shareState";

/** Sharing, where there are others to share with. */
export function shareActs(what: ToShare): Act[] {
  const who = queryClient.getQueryData(accountQuery.queryKey);
  if (!who?.accounts || who.role === "viewer") return [];
  return [{ key: "share", label: "Share", run: () => askToShare(what) }];
}
