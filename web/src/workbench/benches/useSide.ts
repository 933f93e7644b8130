import { useCallback, useState } from "react";

/** Which side of a bench is open, kept while the window is. */
export function useSide<T extends string>(bench: string, sides: readonly (readonly [T, string])[], first: T) {
  const key = `lucid-ridge/${bench}-side`;
  const [side, setSide] = useState<T>(() => sides.find(([name]) => name === window.sessionStorage.getItem(key))?.[0] ?? first);
  const choose = useCallback(
    (to: T) => {
      window.sessionStorage.setItem(key, to);
      setSide(to);
    },
    [key],
  );
  return [side, choose] as const;
}
