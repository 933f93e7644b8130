const KB = 1000;
const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;

/** A size as people say it. */
export function sizeWords(bytes: number): string {
  if (bytes < KB) return `${bytes} B`;
  if (bytes < KB * KB) return `${Math.round(bytes / KB)} kB`;
  if (bytes < KB ** 3) return `${(bytes / KB ** 2).toFixed(1)} MB`;
  return `${(bytes / KB ** 3).toFixed(1)} GB`;
}

/** How long ago something was. */
export function agoWords(at: number, now: number): string {
  const gone = Math.max(0, now - at);
  if (gone < MINUTE) return "just now";
  if (gone < 2 * HOUR) return `${Math.floor(gone / MINUTE)} min ago`;
  if (gone < 2 * DAY) return `${Math.floor(gone / HOUR)} h ago`;
  return `${Math.floor(gone / DAY)} days ago`;
}
