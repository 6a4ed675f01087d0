/** The drafts of this browser, and when they are sent besides a moment after each change: on leaving, and on coming back. */
import { call, callLeaving } from "../../data/api.ts";
import { DraftStore } from "./draft-store.ts";

function storage(): Storage | null {
  try {
    return window.localStorage;
  } catch {
    // Case: the browser keeps no site data.
    return null;
  }
}

export const drafts = new DraftStore((id, update, isLeaving) => (isLeaving ? callLeaving : call)("updatePlan", { id }, update), storage());

export function keepDrafts(): void {
  drafts.resume();
  window.addEventListener("pagehide", () => drafts.flush(true));
  window.addEventListener("online", () => drafts.flush());
}
