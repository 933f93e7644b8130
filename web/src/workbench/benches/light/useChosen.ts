import { useCallback, useState } from "react";

/** What is ticked in a list, by key. */
export function useChosen() {
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const choose = useCallback(
    (key: string, on: boolean) => setChosen((now) => new Set(on ? [...now, key] : [...now].filter((one) => one !== key))),
    [],
  );
  return [chosen, choose] as const;
}
