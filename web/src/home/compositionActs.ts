import { api, ask } from "../api/client";
import { renew } from "../api/queries";
import type { CompositionBrief } from "../api/types";
import { notify, notifyTrouble } from "../shell/notices";
import { shareActs } from "../sharing/shareActs";
import type { Act } from "../shell/RareActs";

const refresh = () => renew("places", "compositions");

/** Duplicate, share and delete a composition; what is deleted can be brought back at once. */
export function compositionActs(one: CompositionBrief): Act[] {
  const path = { params: { path: { id: one.id } } };
  const restore = () => ask(api.POST("/api/compositions/{id}/restore", path)).then(refresh, notifyTrouble);
  return [
    {
      key: "duplicate",
      label: "Duplicate",
      run: () => void ask(api.POST("/api/compositions/{id}/duplicate", path)).then(refresh, notifyTrouble),
    },
    ...shareActs({ kind: "composition", id: one.id, name: one.name }),
    {
      key: "delete",
      label: "Delete",
      run: () =>
        void ask(api.DELETE("/api/compositions/{id}", path)).then(() => {
          void refresh();
          notify({ title: `“${one.name}” deleted`, undo: () => void restore() });
        }, notifyTrouble),
    },
  ];
}
