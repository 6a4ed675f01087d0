import type { RunEvidence } from "@plan-tester/contract";
import type { TokenName } from "../../charts/layers.ts";

export function nameOf({ kept, title }: RunEvidence): string {
  if (!kept) return `${title}, draft`;
  return kept.name.includes(title) ? kept.name : `${kept.name} · ${title}`;
}

const EDGES = /^[\s,:·–-]+|[\s,:·–-]+$/g;

/** Heads of runs side by side: the plan's title, where all of them share it, is left out if what is left tells them apart. */
export function headsOf(runs: readonly RunEvidence[]): string[] {
  const isShared = runs.length > 1 && runs.every(({ title }) => title === runs[0]!.title);
  const short = runs.map(({ kept, title }) => (kept ? kept.name.replace(title, "").replace(EDGES, "") : "draft"));
  return isShared && new Set(short).size === runs.length && short.every(Boolean) ? short : runs.map(nameOf);
}

/** Curves are told by colour and by dash. */
export const LOOKS: readonly { readonly color: TokenName; readonly dash: readonly number[] }[] = [
  { color: "ink", dash: [] },
  { color: "accent", dash: [] },
  { color: "gain", dash: [7, 3] },
  { color: "loss", dash: [2, 2] },
  { color: "soft", dash: [] },
  { color: "accent", dash: [7, 3] },
  { color: "gain", dash: [2, 2] },
  { color: "loss", dash: [9, 2, 2, 2] },
];
