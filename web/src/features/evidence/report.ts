/** A run as one HTML file that needs nothing else and prints well: doubts, figures, curve, periods, trades, and what made it. */
import type { RunEvidence } from "@plan-tester/contract";
import { fallsOf, type Instrument, timeframeLabel } from "@plan-tester/core";
import { dateWords, money, number, percent, priceText, signed, signedMoney, timeAt, units } from "../../lib/format.ts";
import { costsWords, paidWords } from "../../lib/settings-words.ts";
import { FIGURES } from "./definitions.ts";
import { standing } from "./standing.ts";

const MOST_TRADES = 2000;
const [WIDTH, HEIGHT, FALL] = [720, 220, 60];

const safe = (text: string): string =>
  text.replace(/[&<>"]/g, (mark) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" })[mark]!);

type Cell = string | readonly [string, "n"];

/** A table; numbers stand at the right. Texts are made safe here and nowhere else. */
function table(head: readonly Cell[], rows: readonly (readonly Cell[])[]): string {
  const cell = (tag: string, given: Cell): string =>
    typeof given === "string" ? `<${tag}>${safe(given)}</${tag}>` : `<${tag} class="n">${safe(given[0])}</${tag}>`;
  const row = (tag: string, cells: readonly Cell[]): string => `<tr>${cells.map((given) => cell(tag, given)).join("")}</tr>`;
  return `<table><thead>${row("th", head)}</thead><tbody>${rows.map((cells) => row("td", cells)).join("")}</tbody></table>`;
}

function path(values: readonly number[], top: number, height: number, low: number, high: number): string {
  const x = (i: number): string => ((i / Math.max(1, values.length - 1)) * WIDTH).toFixed(1);
  const y = (value: number): string => (top + height - ((value - low) / (high - low || 1)) * height).toFixed(1);
  return values.map((value, i) => `${i === 0 ? "M" : "L"}${x(i)},${y(value)}`).join("");
}

function curve({ daily, settings }: RunEvidence): string {
  const { equity } = daily;
  if (equity.length < 2) return "";
  const fall = Array.from(fallsOf(equity, settings.cash));
  const [low, high] = [Math.min(...equity), Math.max(...equity)];
  const deepest = Math.min(...fall, -1);
  return `<figure><svg viewBox="0 0 ${WIDTH} ${HEIGHT + FALL + 10}" role="img" aria-label="Equity and drawdown by session">
<path d="${path(equity, 0, HEIGHT, low, high)}" fill="none" stroke="#1c2530" stroke-width="1.5"/>
<path d="${path(fall, HEIGHT + 10, FALL, deepest, 0)}L${WIDTH},${HEIGHT + 10}L0,${HEIGHT + 10}Z" fill="#f3d9c8" stroke="#a84813"/>
</svg><figcaption>Equity at session ends, ${number(low)} to ${number(high)}; below it the fall from its peak, down to ${number(deepest)}.</figcaption></figure>`;
}

function sentence({ settings, dataHash }: RunEvidence): string {
  const also = settings.alsoOn.length > 0 ? ` and ${settings.alsoOn.join(", ")}` : "";
  return `On ${settings.symbol}${also} in ${timeframeLabel(settings.timeframe)} bars from ${dateWords(settings.from)} to ${dateWords(settings.to)}, with ${number(settings.cash)}, ${costsWords(settings)}, ${settings.path} paths${settings.kit ? `, exit kit “${settings.kit.name}”` : ""}. Data ${dataHash.slice(0, 12)}.`;
}

const STYLE = `body{font:14px/1.45 system-ui,sans-serif;color:#1c2530;background:#fbf9f4;max-width:760px;margin:2em auto;padding:0 1em}
h1{font-size:22px;margin-bottom:0}h2{font-size:16px;margin-top:1.6em;border-bottom:1px solid #d8d2c4}
table{border-collapse:collapse;width:100%;font-size:12px}th,td{text-align:left;padding:2px 6px;border-bottom:1px solid #e6e0d2;font-variant-numeric:tabular-nums}
.n{text-align:right}pre{font-size:11px;white-space:pre-wrap;background:#f3f0e8;padding:8px}.w{border-left:3px solid #6f5200;padding-left:8px}svg{width:100%}
figcaption,.s{color:#565f6b}@media print{body{background:#fff;margin:0}h2{break-after:avoid}tr{break-inside:avoid}}`;

/** What each instrument paid, where they are still in Markets. */
const costsPart = (run: RunEvidence, instruments: readonly Instrument[]): string =>
  instruments.length === 0
    ? ""
    : `<h2>Costs</h2>${table(
        ["Instrument", "Pays"],
        instruments.map((instrument) => [instrument.symbol, paidWords(run.settings, instrument)]),
      )}`;

/** @param instruments of the run, the plan's own first */
export function reportHtml(run: RunEvidence, zone: string, decimals: number, instruments: readonly Instrument[] = []): string {
  const right = (text: string): Cell => [text, "n"];
  const price = (value: number): Cell => right(priceText(value, decimals));
  const doubts = [...run.warnings, ...run.slips.map((slip) => ({ ...slip, text: `line ${slip.line}: ${slip.text}?` }))];
  const title = run.kept?.name ?? run.title;
  const trades = run.trades.slice(0, MOST_TRADES);
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>${safe(title)}</title><style>${STYLE}</style></head><body>
<h1>${safe(title)}</h1><p class="s">${safe(run.title)} · made ${timeAt(run.createdMs, "UTC")} UTC · fingerprint ${run.fingerprint}</p>
<p>${safe(sentence(run))}</p>${run.kept?.note ? `<p>${safe(run.kept.note)}</p>` : ""}
${doubts.length > 0 ? `<h2>Before you believe it</h2>${doubts.map(({ text, advice }) => `<p class="w"><strong>${safe(text)}.</strong> ${safe(advice)}</p>`).join("")}` : ""}
<h2>Result</h2><p>Net ${signed(run.figures.netProfit)}, deepest drawdown ${number(run.figures.maxDrawdown)} (${percent(run.figures.maxDrawdownShare)}), ${number(run.figures.trades)} trades, Sharpe ${number(run.figures.sharpe, 2)}. Holding ${safe(run.settings.symbol)} would have returned ${percent(run.benchmarkFigures.totalReturn)}. ${safe(standing(run, run.lastMs).join(" "))}</p>
${curve(run)}
<h2>Figures</h2>${table(
    ["Figure", right("All"), right("Long"), right("Short"), "Definition"],
    FIGURES.map(({ key, label, text, definition }) => [
      label,
      right(text(run.figures[key])),
      ...[run.long, run.short].map((side) => right(key in side ? text(side[key as keyof typeof side]) : number(null))),
      definition,
    ]),
  )}
<h2>Years and months</h2>${table(
    ["Period", right("Net"), right("Return"), right("Trades"), right("Deepest fall")],
    [...run.years, ...run.months].map((period) => [
      period.label,
      right(signedMoney(period.netProfit)),
      right(percent(period.totalReturn)),
      right(number(period.trades)),
      right(money(period.maxDrawdown)),
    ]),
  )}
${costsPart(run, instruments)}
<h2>Inputs</h2>${table(
    ["Input", right("Value"), right("Default")],
    run.inputSpecs.map((spec) => [spec.label, right(String(run.inputs[spec.name] ?? spec.default)), right(String(spec.default))]),
  )}
<h2>Trades</h2>${run.trades.length > MOST_TRADES ? `<p class="s">The first ${number(MOST_TRADES)} of ${number(run.trades.length)}.</p>` : ""}${table(
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
  )}
<h2>Source</h2><pre>${safe(run.source)}</pre></body></html>
`;
}
