import { api, ApiError, ask } from "../api/client";
import type { TakeNew } from "../api/types";
import { keep, mine, readKept } from "../shell/kept";

const key = () => mine("lucid-ridge/takes-waiting");

interface Waiting {
  id: string;
  take: TakeNew;
}

function read(): Waiting[] {
  try {
    return JSON.parse(readKept(key()) ?? "[]") as Waiting[];
  } catch {
    return [];
  }
}

const write = (list: Waiting[]) => keep(key(), JSON.stringify(list));

export const waitingCount = () => read().length;

/** Put a finished take in the queue. Its id makes sending it twice harmless. */
export function enqueue(id: string, take: TakeNew) {
  write([...read().filter((one) => one.id !== id), { id, take }]);
}

/** Send what waits. Ids that the server has are removed; a refused take is reported, not dropped. */
export async function flush(): Promise<{ sent: string[]; refused: { id: string; why: string }[]; waiting: number }> {
  const sent: string[] = [];
  const refused: { id: string; why: string }[] = [];
  for (const { id, take } of read()) {
    try {
      await ask(api.PUT("/api/takes/{id}", { params: { path: { id } }, body: take }));
      sent.push(id);
      write(read().filter((one) => one.id !== id));
    } catch (error) {
      if (error instanceof ApiError && !error.unreachable) refused.push({ id, why: error.message });
      else break;
    }
  }
  return { sent, refused, waiting: read().length };
}
