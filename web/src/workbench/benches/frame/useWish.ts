import { useState } from "react";

import { api, ask, problemOf, wordsOf } from "../../../api/client";
import type { Answer, Wish } from "../../../api/types";
import { useBench } from "../../context";

/** Ask the server to grant a wish of the picture as it stands now. */
export function useWish() {
  const { store } = useBench();
  const [answer, setAnswer] = useState<Answer>();
  const [trouble, setTrouble] = useState<string>();
  const [asking, setAsking] = useState(false);
  const wish = async (what: Wish) => {
    const scene = store.scene;
    if (!scene) return;
    setAsking(true);
    setTrouble(undefined);
    try {
      setAnswer(await ask(api.POST("/api/solve", { body: { scene, changes: [], wish: what } })));
    } catch (error) {
      const problem = problemOf(error);
      setAnswer(undefined);
      setTrouble(wordsOf(problem));
    } finally {
      setAsking(false);
    }
  };
  return { answer, trouble, asking, wish, clear: () => setAnswer(undefined) };
}
