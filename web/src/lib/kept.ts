/** State of a view that outlives it: where one was when one comes back, or when a new run takes the place of the last. */
import { useCallback, useState } from "react";

const kept = new Map<string, unknown>();

/** Like useState, by a key; a change of the key shows what was kept under the new one. */
export function useKept<T>(key: string, initial: T): [T, (value: T | ((before: T) => T)) => void] {
  const [, redraw] = useState(0);
  const value = (kept.has(key) ? kept.get(key) : initial) as T;
  const set = useCallback(
    (next: T | ((before: T) => T)) => {
      const before = (kept.has(key) ? kept.get(key) : initial) as T;
      kept.set(key, typeof next === "function" ? (next as (before: T) => T)(before) : next);
      redraw((turn) => turn + 1);
    },
    [key, initial],
  );
  return [value, set];
}
