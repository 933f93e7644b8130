/** Wakes at an instant to the millisecond or two, also where the page is behind another one: a page's own timers are slowed there. */
interface Wake {
  id: number;
  /** On the clock that pages and workers share, milliseconds; null calls it off. */
  at: number | null;
}

const NEAR_MS = 60;
const set = new Map<number, number>();

function wake(id: number, at: number) {
  const rest = at - (performance.timeOrigin + performance.now());
  if (rest <= 0) {
    set.delete(id);
    self.postMessage(id);
    return;
  }
  // A long wait may end late: the last stretch is waited for by itself.
  set.set(
    id,
    self.setTimeout(() => wake(id, at), rest > 2 * NEAR_MS ? rest - NEAR_MS : rest),
  );
}

self.onmessage = ({ data }: MessageEvent<Wake>) => {
  self.clearTimeout(set.get(data.id));
  if (data.at === null) set.delete(data.id);
  else wake(data.id, data.at);
};
