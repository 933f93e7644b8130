import { api, ask } from "../api/client";
import { renew } from "../api/queries";
import { notifyTrouble } from "../shell/notices";

/** Have pictures be loose again; a take that was made of them goes with that. */
export function letGo(pictures: string[], madeTake: string | null) {
  const back = async () => {
    await ask(api.POST("/api/review/let-go", { body: { pictures } }));
    if (madeTake) await ask(api.DELETE("/api/takes/{id}", { params: { path: { id: madeTake } } }));
    await renew("pictures", "matches", "takes");
  };
  back().catch(notifyTrouble);
}
