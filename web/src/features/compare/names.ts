import type { RunEvidence } from "@plan-tester/contract";
import type { TokenName } from "../../charts/layers.ts";

export function nameOf({ kept, title }: RunEvidence): string {
  if (!kept) return `${title}, draft`;
  return kept.name.includes(title) ? kept.name : `${kept.name} · ${title}`;
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
