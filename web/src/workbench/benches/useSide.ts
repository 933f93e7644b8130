import { useCallback, useState } from "react";

const keyOf = (bench: string) => `lucid-ridge/${bench}-side`;

/** Open a bench at one of its sides when it is next shown. */
export const keepSide = (bench: string, side: string) => window.sessionStorage.setItem(keyOf(bench), side);

/** Which side of a bench is open, kept while the window is. */
export function useSide<T extends string>(bench: string, sides: readonly (readonly [T, string])[], first: T) {
  const [side, setSide] = useState<T>(
    () => sides.find(([name]) => name === window.sessionStorage.getItem(keyOf(bench)))?.[0] ?? first,
  );
  const choose = useCallback(
    (to: T) => {
      keepSide(bench, to);
      setSide(to);
    },
    [bench],
  );
  return [side, choose] as const;
}
