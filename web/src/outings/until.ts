const MINUTE_MS = 60_000;

/** How long until then, to the minute; the last two hours to the second. What is past is told as late. */
export function until(then: number, now: number): string {
  const left = then - now;
  if (left <= -MINUTE_MS) return `${Math.floor(-left / MINUTE_MS)} min late`;
  const [seconds, minutes] = [Math.max(Math.floor(left / 1000), 0), Math.max(Math.floor(left / MINUTE_MS), 0)];
  const two = (n: number) => String(n).padStart(2, "0");
  if (minutes < 120) return `${minutes}:${two(seconds % 60)} min`;
  const hours = Math.floor(minutes / 60);
  return hours < 48 ? `${hours} h ${two(minutes % 60)} min` : `${Math.floor(hours / 24)} days ${hours % 24} h`;
}
