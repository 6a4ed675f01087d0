/** A run as one HTML file that needs nothing else and prints well: doubts, figures, curve, periods, trades, and what made it. */
import type { RunEvidence } from "@plan-tester/contract";
import { fallsOf, type Instrument, timeframeLabel } from "@plan-tester/core";
import { dateWords, money, number, percent, priceText, signed, signedMoney, timeAt, units } from "../../lib/format.ts";
import { type Cell, curves, doubtsPart, reportPage, right, safe, section, table } from "../../lib/html-report.ts";
import { costsWords, paidWords } from "../../lib/settings-words.ts";
import { FIGURES } from "./definitions.ts";
import { standing } from "./standing.ts";

const MOST_TRADES = 2000;

function curve({ daily, settings }: RunEvidence): string {
  const { equity } = daily;
  if (equity.length < 2) return "";
  const fall = fallsOf(equity, settings.cash);
  const deepest = fall.reduce((least, value) => Math.min(least, value), 0);
  return curves(
    [{ name: "equity", values: equity }],
    fall,
    `Equity at session ends; below it the fall from its peak, down to ${number(deepest)}.`,
  );
}

function sentence({ settings, dataHash }: RunEvidence): string {
  const also = settings.alsoOn.length > 0 ? ` and ${settings.alsoOn.join(", ")}` : "";
  return `On ${settings.symbol}${also} in ${timeframeLabel(settings.timeframe)} bars from ${dateWords(settings.from)} to ${dateWords(settings.to)}, with ${number(settings.cash)}, ${costsWords(settings)}, ${settings.path} paths${settings.kit ? `, exit kit “${settings.kit.name}”` : ""}. Data ${dataHash.slice(0, 12)}.`;
}

/** What each instrument paid, where they are still in Markets. */
const costsPart = (run: RunEvidence, instruments: readonly Instrument[]): string =>
  instruments.length === 0
    ? ""
    : table(
        ["Instrument", "Pays"],
        instruments.map((instrument) => [instrument.symbol, paidWords(run.settings, instrument)]),
      );

/** @param instruments of the run, the plan's own first */
export function reportHtml(run: RunEvidence, zone: string, decimals: number, instruments: readonly Instrument[] = []): string {
  const price = (value: number): Cell => right(priceText(value, decimals));
  const trades = run.trades.slice(0, MOST_TRADES);
  const figures = table(
    ["Figure", right("All"), right("Long"), right("Short"), "Definition"],
    FIGURES.map(({ key, label, text, definition }) => [
      label,
      right(text(run.figures[key])),
      ...[run.long, run.short].map((side) => right(key in side ? text(side[key as keyof typeof side]) : number(null))),
      definition,
    ]),
  );
  const periods = table(
    ["Period", right("Net"), right("Return"), right("Trades"), right("Deepest fall")],
    [...run.years, ...run.months].map((period) => [
      period.label,
      right(signedMoney(period.netProfit)),
      right(percent(period.totalReturn)),
      right(number(period.trades)),
      right(money(period.maxDrawdown)),
    ]),
  );
  const inputs = table(
    ["Input", right("Value"), right("Default")],
    run.inputSpecs.map((spec) => [spec.label, right(String(run.inputs[spec.name] ?? spec.default)), right(String(spec.default))]),
  );
  const listed = table(
    [right("#"), "Side", right("Size"), "Entry", right("at"), "Exit", right("at"), "By", right("Net")],
    trades.map((trade) => [
      right(String(trade.id)),
      trade.side > 0 ? "long" : "short",
      right(units(trade.quantity)),
      timeAt(trade.entryTime, zone),
      price(trade.entryPrice),
      timeAt(trade.exitTime, zone),
      price(trade.exitPrice),
      trade.reason,
      right(signedMoney(trade.net)),
    ]),
  );
  const cut = run.trades.length > MOST_TRADES ? `<p class="s">The first ${number(MOST_TRADES)} of ${number(run.trades.length)}.</p>` : "";
  return reportPage({
    title: run.kept?.name ?? run.title,
    about: `${run.title} · made ${timeAt(run.createdMs, "UTC")} UTC · fingerprint ${run.fingerprint}`,
    note: run.kept?.note ?? "",
    parts: [
      `<p>${safe(sentence(run))}</p>`,
      doubtsPart([...run.warnings, ...run.slips.map((slip) => ({ ...slip, text: `line ${slip.line}: ${slip.text}?` }))]),
      section(
        "Result",
        `<p>Net ${signed(run.figures.netProfit)}, deepest drawdown ${number(run.figures.maxDrawdown)} (${percent(run.figures.maxDrawdownShare)}), ${number(run.figures.trades)} trades, Sharpe ${number(run.figures.sharpe, 2)}. Holding ${safe(run.settings.symbol)} would have returned ${percent(run.benchmarkFigures.totalReturn)}. ${safe(standing(run, run.lastMs).join(" "))}</p>`,
      ),
      curve(run),
      section("Figures", figures),
      section("Years and months", periods),
      section("Costs", costsPart(run, instruments)),
      section("Inputs", inputs),
      section("Trades", cut + listed),
      section("Source", `<pre>${safe(run.source)}</pre>`),
    ],
  });
}
