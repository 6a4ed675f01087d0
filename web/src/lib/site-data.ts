/** What the browser keeps for this app, from one visit to the next. Where it keeps nothing, things are there as long as the page. */
import { useCallback, useMemo, useSyncExternalStore } from "react";

/** null where the browser keeps no site data. */
export const siteData: Storage | null = (() => {
  try {
    return window.localStorage;
  } catch {
    return null;
  }
})();

const onPage = new Map<string, string>();
const listeners = new Set<() => void>();

/** As of `Storage`, but always there. */
export const remembered = {
  getItem(key: string): string | null {
    return onPage.get(key) ?? siteData?.getItem(key) ?? null;
  },
  setItem(key: string, text: string): void {
    try {
      siteData!.setItem(key, text);
      onPage.delete(key);
    } catch {
      // Case: there are no site data, or no room is left for them.
      onPage.set(key, text);
    }
    for (const listener of listeners) listener();
  },
};

/** What is kept under a key, now and whenever it changes; null where nothing is. */
export const useRemembered = (key: string): string | null =>
  useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => remembered.getItem(key),
  );

/** A list of words that the user has set, and finds again another day; `initial` until then. */
export function useRememberedList(key: string, initial: readonly string[]): [readonly string[], (list: readonly string[]) => void] {
  const text = useRemembered(key);
  const set = useCallback((list: readonly string[]) => remembered.setItem(key, list.join("\n")), [key]);
  return [useMemo(() => (text === null ? initial : text.split("\n").filter(Boolean)), [text, initial]), set];
}
