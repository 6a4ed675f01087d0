/** What is doubtful about an instrument's bars, as the server tells it. */
import type { Packed, QualityMeta } from "@plan-tester/contract";
import { countsOf, DOUBTS, type Doubt } from "@plan-tester/core";
import { count, number, percent } from "../../lib/format.ts";

/** Findings with the map they are shown on. */
export interface Coverage extends QualityMeta {
  readonly openMs: Float64Array;
  readonly present: Uint8Array;
  readonly doubt: Uint8Array;
}

export const coverageOf = ({ meta, columns, bytes }: Packed<QualityMeta>): Coverage => ({
  ...meta,
  openMs: columns.openMs!,
  present: bytes.present!,
  doubt: bytes.doubt!,
});

/** The kinds of what was found, most frequent first. */
export function kindsOf({ findings }: Pick<QualityMeta, "findings">): readonly { readonly kind: Doubt; readonly count: number }[] {
  const counts = countsOf(findings);
  return DOUBTS.map((kind) => ({ kind, count: counts[kind] }))
    .filter((one) => one.count > 0)
    .sort((a, b) => b.count - a.count);
}

/** How much is there and how much of it is doubtful, in a sentence. */
export function qualityWords({
  bars,
  expected,
  findings,
  doubtful,
}: Pick<QualityMeta, "bars" | "expected" | "findings" | "doubtful">): string {
  const there =
    expected === null
      ? `${count(bars, "bar")}. Its sessions are not known, so that nothing can be missing.`
      : `${number(bars)} of ${number(expected)} expected bars are there.`;
  if (findings.length === 0) return `${there} Nothing about them is doubtful.`;
  const share = doubtful / Math.max(1, expected ?? bars);
  return `${there} ${count(findings.length, "stretch", "stretches")} ${findings.length === 1 ? "is" : "are"} doubtful, ${percent(share, share < 0.01 ? 2 : 1)} of all bars.`;
}
