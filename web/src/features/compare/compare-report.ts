/** A comparison of runs as one HTML file to read and to print. */
import type { RunEvidence } from "@plan-tester/contract";
import { curves, doubtsPart, reportPage, right, section, table } from "../../lib/html-report.ts";
import { FIGURES } from "../evidence/definitions.ts";
import { differencesOf } from "./differences.ts";
import { nameOf } from "./names.ts";

/** @param note the user's own */
export function compareReportHtml(runs: readonly RunEvidence[], note = ""): string {
  const heads = runs.map((_run, k) => right(String(k + 1)));
  const dates = [...new Set(runs.flatMap(({ daily }) => daily.dates))].sort();
  const lines = runs.map((run, k) => {
    const byDate = new Map(run.daily.dates.map((date, d) => [date, (run.daily.equity[d + 1]! / run.settings.cash - 1) * 100]));
    return { name: `${k + 1} · ${nameOf(run)}`, values: Float64Array.from(dates, (date) => byDate.get(date) ?? Number.NaN) };
  });
  const doubts = runs.flatMap((run, k) => run.warnings.map(({ text, advice }) => ({ text: `${k + 1} · ${text}`, advice })));
  return reportPage({
    title: `Comparison of ${runs.length} runs`,
    about: runs.map((run, k) => `${k + 1} · ${nameOf(run)}, fingerprint ${run.fingerprint}`).join("; "),
    note,
    parts: [
      doubtsPart(doubts),
      curves(lines, null, "Return in percent of each run’s own cash, at session ends."),
      section(
        "Figures",
        table(
          ["Figure", ...heads, "Definition"],
          FIGURES.map(({ key, label, text, definition }) => [label, ...runs.map(({ figures }) => right(text(figures[key]))), definition]),
        ),
      ),
      section(
        "What differs in what made them",
        table(
          ["What", ...runs.map((_run, k) => `${k + 1}`)],
          differencesOf(runs).map(({ name, values }) => [name, ...values]),
        ),
      ),
    ],
  });
}
