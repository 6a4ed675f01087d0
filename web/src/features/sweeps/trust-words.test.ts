/** The verdict on a sweep in words, and its printed report. */
import type { LuckTest, SweepDetail } from "@plan-tester/contract";
import { PLAIN_SETTINGS } from "@plan-tester/contract";
import { luckOf, SWEEP_FIGURES } from "@plan-tester/core";
import { describe, expect, test } from "vitest";
import type { SweepDoubt } from "./overfit-worker.ts";
import { sweepReportHtml } from "./sweep-report.ts";
import type { SweepViewProps } from "./sweep-view.ts";
import { luckWords, powerWords, trustWords } from "./trust-words.ts";

const doubt = (change: Partial<SweepDoubt> = {}): SweepDoubt => ({
  ...{
    probability: 0.19,
    logits: new Float64Array(2),
    inSample: new Float64Array(2),
    outOfSample: new Float64Array(2),
    lossProbability: 0.4,
  },
  ...{ independent: 2.6, deflated: 0.891, years: 1, notSeen: { aYear: 0.004, ratio: 0.12, p: 0.453, chosen: 10 } },
  ability: { p: 0.256, passing: [], settings: 99 },
  ...change,
});
const luck = (ratios: readonly number[], status: LuckTest["status"] = "complete", best = 2): LuckTest => ({
  ...{ status, asked: 19, best, ratios, elapsedMs: 30_000, error: "" },
});
const NINETEEN = Array.from({ length: 19 }, (_none, k) => k / 10);

describe("the verdict", () => {
  test("waits for the luck test, for its end, and for enough markets", () => {
    expect(trustWords(doubt(), null, 99)).toMatchObject({ verdict: null, head: "Not decided" });
    expect(trustWords(doubt(), luck(NINETEEN.slice(0, 18), "paused"), 99).verdict).toBeNull();
    expect(trustWords(doubt(), luck(NINETEEN, "running"), 99).verdict).toBeNull();
    expect(trustWords(doubt(), luck(NINETEEN, "complete", 1), 99)).toMatchObject({ verdict: "against", head: "Against" });
  });

  test("does not wait where two findings speak for it already", () => {
    const notSeen = { aYear: 0.2, ratio: 2.1, p: 0.01, chosen: 3 };
    expect(trustWords(doubt({ notSeen, probability: 0.04 }), null, 99).verdict).toBe("for");
    expect(trustWords(doubt({ notSeen }), luck(NINETEEN, "complete", 1), 99).verdict).toBe("open");
    expect(trustWords(doubt({ notSeen }), luck(NINETEEN), 99).verdict).toBe("for");
  });

  test("says what was found, with days too few said so", () => {
    const { findings, second } = trustWords(doubt({ notSeen: null }), luck(NINETEEN), 99);
    expect(findings.map(({ speaks, figure }) => [speaks, figure])).toEqual([
      [true, expect.stringMatching(/^p 0\.05 \(smooth 0\.\d{3}\)$/)],
      [null, ""],
      [false, expect.stringMatching(/^19\s%$/)],
    ]);
    expect(findings[1]!.text).toBe("There are too few days: 60 are needed.");
    expect(second.map(([, value]) => value)).toEqual(["p 0.256", "0", expect.stringMatching(/^89\.1\s%$/), "2.6"]);
  });

  test("says what luck finds and what is left, and what a track of that length can tell", () => {
    expect(luckWords(luckOf(2, [1, 1.5, 2.5])!, 2)).toBe(
      "In 3 markets with this one’s moves but no memory, the same search found as good a ratio in 1. Luck alone finds about 1.7; expect about 2.0 − 1.7 = 0.3.",
    );
    expect(luckWords(luckOf(1, [2])!, 1)).toContain("the best of the sweep, 1.0, is no more than that");
    expect(powerWords("against", 1)).toContain(
      "ratio of 1 is believed in 25 of 100 searches, one of 2 in 31. So this says little against a small edge",
    );
    expect(powerWords("for", 3)).toContain("Luck is believed in about 5 of 100.");
    expect(powerWords("open", 3)).not.toContain("says little");
  });
});

test("the report says the verdict first, then the best variants with what was varied, and no text becomes markup", () => {
  const rows = [3, 1, 2].map((net) => SWEEP_FIGURES.map((_name, k) => (k === 0 ? net : k)));
  const view: SweepViewProps = {
    inputs: [{ name: "fast", label: "Fast <b>", values: [5, 10, 15], ordered: true }],
    ...{ linked: [], variants: [{ fast: 5 }, { fast: 10 }, { fast: 15 }], figures: Float64Array.from(rows.flat()), stretches: 1, aim: 0 },
    ...{ scores: null, selected: null, onSelect: () => undefined },
  };
  const sweep = {
    ...{
      id: "s1",
      planId: "p",
      planTitle: "Swing & co",
      status: "complete",
      variants: 3,
      done: 3,
      failed: 0,
      createdMs: 1,
      elapsedMs: 1,
      error: "",
    },
    ...{ source: "", inputSpecs: [], failures: [], figures: SWEEP_FIGURES },
    request: {
      ...{ planId: "p", inputs: {}, outOfSample: null, aim: "netProfit", constraints: [], search: null },
      settings: { ...PLAIN_SETTINGS, symbol: "KELP", timeframe: "15m", from: "2024-01-01", to: "2024-12-31" },
      ranges: [{ input: "fast", from: 5, to: 15, step: 5 }],
    },
  } as unknown as SweepDetail;
  const html = sweepReportHtml({
    sweep,
    view,
    words: trustWords(doubt(), luck(NINETEEN, "complete", 1), 3),
    test: luck(NINETEEN, "complete", 1),
  });
  expect(html).toContain("<h1>Sweep of Swing &amp; co</h1>");
  expect(html.indexOf("Before you believe it: Against")).toBeLessThan(html.indexOf("The best 3 of 3"));
  expect(html).toContain("<th>Fast &lt;b&gt;</th>");
  expect([...html.matchAll(/<tr><td>(\d)<\/td><td>(\d+)<\/td>/g)].map(([, rank, fast]) => [rank, fast])).toEqual([
    ["1", "5"],
    ["2", "15"],
    ["3", "10"],
  ]);
  expect(html).toContain("5 to 15 in steps of 5 (3)");
  expect(html.match(/<path d="M[\d.]+,10V26"/g)).toHaveLength(19);
});
