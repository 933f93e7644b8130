import { useEffect, useState } from "react";

const AT_FIRST = 12;
const MORE = 80;

/** How many of a long list are drawn: some at once, more whenever its end comes near. */
export function useGrowing(count: number) {
  const [many, setMany] = useState(AT_FIRST);
  const [end, setEnd] = useState<HTMLElement | null>(null);
  const whole = many >= count;
  useEffect(() => {
    if (!end || whole) return;
    const watcher = new IntersectionObserver(
      (entries) => entries.some((entry) => entry.isIntersecting) && setMany((now) => now + MORE),
      { rootMargin: "800px" },
    );
    watcher.observe(end);
    return () => watcher.disconnect();
    // Watched anew after each growth: an end that is still near tells of itself once only.
  }, [end, whole, many]);
  return { many, end: setEnd };
}
