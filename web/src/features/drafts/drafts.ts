/** The drafts of this browser, and when they are sent besides a moment after each change: on leaving, and on coming back. */
import { call, callLeaving } from "../../data/api.ts";
import { siteData } from "../../lib/site-data.ts";
import { DraftStore } from "./draft-store.ts";

export const drafts = new DraftStore((id, update, isLeaving) => (isLeaving ? callLeaving : call)("updatePlan", { id }, update), siteData);

export function keepDrafts(): void {
  drafts.resume();
  window.addEventListener("pagehide", () => drafts.flush(true));
  window.addEventListener("online", () => drafts.flush());
}
