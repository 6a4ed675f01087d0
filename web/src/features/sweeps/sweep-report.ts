/** A sweep with its verdict as one HTML file to read and to print: doubts first, then the best variants, what was tried, and how. */
import { type LuckTest, marketsOf, type SweepDetail, settingLabel, valuesOf, valueWords } from "@plan-tester/contract";
import { timeframeLabel } from "@plan-tester/core";
import { aimWords, SWEEP_DEFINITIONS } from "../../lib/aims.ts";
import { number } from "../../lib/format.ts";
import { reportPage, right, safe, section, table } from "../../lib/html-report.ts";
import { ranked, type SweepViewProps, valueAt, valueText, WIDTH } from "./sweep-view.ts";
import { CANT_SHOW, speaksWord, type TrustWords } from "./trust-words.ts";

const BEST = 25;
/** Figures of its table. */
const SHOWN = ["netProfit", "trades", "profitFactor", "maxDrawdown", "returnToDrawdown", "sharpe"] as const;
/** Settings that ranges or the head say already. */
const SAID: readonly string[] = ["symbol", "timeframe", "from", "to"];

export interface SweepReport {
  readonly sweep: SweepDetail;
  readonly view: SweepViewProps;
  readonly words: TrustWords;
  readonly test: LuckTest | null;
}

function luckStrip({ best, ratios }: LuckTest): string {
  const [least, most] = [Math.min(best, ...ratios), Math.max(best, ...ratios)];
  const x = (value: number): string => (10 + (700 * (value - least)) / (most - least || 1)).toFixed(1);
  const ticks = ratios.map((ratio) => `<path d="M${x(ratio)},10V26" stroke="#6b7280" stroke-width="2"/>`).join("");
  return `<figure><svg viewBox="0 0 720 40" role="img" aria-label="Best ratios that luck found">${ticks}<path d="M${x(best)},2V34" stroke="#2b4a8b" stroke-width="3"/></svg><figcaption>Best annual ratios on ${ratios.length} markets without memory, a tick each, from ${number(least, 2)} to ${number(most, 2)}; the line is this sweep, ${number(best, 2)}.</figcaption></figure>`;
}

export function sweepReportHtml({ sweep, view, words, test }: SweepReport): string {
  const { request } = sweep;
  const { symbols, timeframes } = marketsOf(request.settings, request.ranges);
  const { verdict, head, text, findings, second } = words;
  const best = ranked(view, view.aim).slice(0, BEST);
  const columns = SHOWN.map((name) => ({ name, at: SWEEP_DEFINITIONS.findIndex(({ key }) => key === name) }));
  const stretches = view.stretches === 2 ? [0, 1] : [0];
  const heads = stretches.flatMap((s) => columns.map(({ at }) => right(`${s === 1 ? "later: " : ""}${SWEEP_DEFINITIONS[at]!.label}`)));
  const plain = Object.entries(request.settings).filter(([name]) => !SAID.includes(name));
  return reportPage({
    title: `Sweep of ${sweep.planTitle}`,
    about: `${symbols.join(", ")} in ${timeframes.map(timeframeLabel).join(", ")}, ${request.settings.from} to ${request.settings.to}${request.outOfSample ? `, later period ${request.outOfSample.from} to ${request.outOfSample.to}` : ""}; ${number(sweep.done)} variants, aiming at ${aimWords(request.aim)}; sweep ${sweep.id}`,
    note: "",
    parts: [
      `<h2>Before you believe it: ${safe(head)}</h2><p${verdict === "for" ? "" : ' class="w"'}>${safe(text)}</p>`,
      table(
        ["Finding", "", "Figure", "What was found"],
        findings.map(({ title, speaks, figure, text: found }) => [title, speaksWord(speaks), figure, found]),
      ),
      test && test.ratios.length > 0 ? luckStrip(test) : "",
      table(
        ["Second row", right("Value")],
        second.map(([label, value]) => [label, right(value)]),
      ),
      `<p class="s">${safe(CANT_SHOW)}</p>`,
      section(
        `The best ${best.length} of ${number(view.variants.length)}`,
        table(
          ["", ...view.inputs.map(({ label }) => label), ...heads],
          best.map((variant, k) => [
            String(k + 1),
            ...view.inputs.map(({ name }) => valueText(view.variants[variant]![name])),
            ...stretches.flatMap((s) =>
              columns.map(({ at }) => right(SWEEP_DEFINITIONS[at]!.text(valueAt(view, variant, s * WIDTH + at)))),
            ),
          ]),
        ),
      ),
      section(
        "What was varied",
        table(
          ["Input", "Values"],
          request.ranges.map((range) => [
            view.inputs.find(({ name }) => name === range.input)?.label ?? range.input,
            "values" in range
              ? range.values.map(valueText).join(", ")
              : `${range.from} to ${range.to} in steps of ${range.step} (${valuesOf(range).length})`,
          ]),
        ),
      ),
      section(
        "Settings",
        table(
          ["Setting", "Value"],
          plain.map(([name, value]) => [settingLabel(name as keyof typeof request.settings), valueWords(value)]),
        ),
      ),
    ],
  });
}
