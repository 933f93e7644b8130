import { useEffect, useState } from "react";

import { type BoardItem, boardItems, outbox, type Waiting, whenBoardChanges } from "./store";

export interface Board {
  items: BoardItem[];
  waiting: Waiting[];
  /** Bytes that this browser uses for the pages and what is on board, and how many it gives; null where it does not tell. */
  used: number | null;
  room: number | null;
  /** Whether the browser promised not to clear it when room gets short; null where it cannot say. */
  promised: boolean | null;
  trouble: boolean;
}

const NOTHING: Board = { items: [], waiting: [], used: null, room: null, promised: null, trouble: false };

async function look(): Promise<Board> {
  try {
    const [items, waiting] = await Promise.all([boardItems(), outbox()]);
    const told = await navigator.storage.estimate().catch(() => null);
    const promised = await navigator.storage.persisted().catch(() => null);
    return { items, waiting, used: told?.usage ?? null, room: told?.quota ?? null, promised, trouble: false };
  } catch {
    return { ...NOTHING, trouble: true };
  }
}

/** What is on board and what waits, as it changes; undefined until it was looked at. */
export function useBoard(): Board | undefined {
  const [board, setBoard] = useState<Board>();
  useEffect(() => {
    let gone = false;
    const again = () => void look().then((found) => !gone && setBoard(found));
    again();
    const stop = whenBoardChanges(again);
    return () => {
      gone = true;
      stop();
    };
  }, []);
  return board;
}
