/** Whether the window is too narrow for panes side by side: a small screen, or a large one that is zoomed in. */
import { useSyncExternalStore } from "react";

/** CSS pixels. */
const NARROW = "(max-width: 900px)";

function subscribe(listener: () => void): () => void {
  const query = window.matchMedia(NARROW);
  query.addEventListener("change", listener);
  return () => query.removeEventListener("change", listener);
}

export const useNarrow = (): boolean => useSyncExternalStore(subscribe, () => window.matchMedia(NARROW).matches);
