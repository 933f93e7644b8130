import { whoAsks } from "../account/account";
import type { Act } from "../shell/RareActs";
import { askToShare, type ToShare } from "./shareState";

/** Sharing, where there are others to share with. */
export function shareActs(what: ToShare): Act[] {
  const who = whoAsks();
  if (!who?.accounts || who.role === "viewer") return [];
  return [{ key: "share", label: "Share", run: () => askToShare(what) }];
}
