/** What the edges of the demo world are worth, over many worlds that differ by their seed alone. Writes the table of demo/README.md. */
import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { makeSeries, mean, quantile, sampleDeviation } from "@plan-tester/core";
import { annualSharpe, costPerSide, EDGE_RULES, generateHistory, HISTORY_TO, instrumentNamed } from "@plan-tester/demo";
import { workspaceRoot } from "@plan-tester/demo/root";

const WORLDS = Number(process.env.EDGE_WORLDS ?? 100);
const FIRST_SEED = 1000;
const README = join(workspaceRoot(), "demo", "README.md");
const [BEGIN, END] = ["<!-- edges -->", "<!-- /edges -->"];

interface Measured {
  readonly net: number[];
  readonly gross: number[];
  readonly years: readonly [number[], number[], number[]];
}

const symbols = [...new Set(EDGE_RULES.map(({ symbol }) => symbol))];
const measured = new Map(EDGE_RULES.map((rule): [typeof rule, Measured] => [rule, { net: [], gross: [], years: [[], [], []] }]));
for (const symbol of symbols) {
  const instrument = instrumentNamed(symbol)!;
  const perYear = instrument.calendar.sessionsPerYear!;
  for (let world = 0; world < WORLDS; world++) {
    const bars = makeSeries(generateHistory(symbol, HISTORY_TO, FIRST_SEED + world).columns, "1m", instrument.calendar);
    const cost = costPerSide(instrument, mean(bars.close)!);
    for (const [rule, found] of measured) {
      if (rule.symbol !== symbol) continue;
      const returns = rule.returns(bars, cost);
      const third = returns.length / 3;
      found.net.push(annualSharpe(returns, perYear));
      found.gross.push(annualSharpe(rule.returns(bars, 0), perYear));
      found.years.forEach((year, k) => {
        year.push(annualSharpe(returns.slice(Math.floor(k * third), Math.floor((k + 1) * third)), perYear));
      });
    }
  }
  console.log(`  ${symbol}: ${WORLDS} worlds`);
}

const two = (value: number | null): string => (value ?? Number.NaN).toFixed(2).replace("-", "−");
const rows = [...measured].map(([{ symbol, what }, { net, gross, years }]) => {
  const sorted = [...net].sort((a, b) => a - b);
  const spread = `${two(quantile(sorted, 0.05))} to ${two(quantile(sorted, 0.95))}`;
  return `| ${symbol} | ${what} | ${two(mean(net))} | ${two(sampleDeviation(net))} | ${spread} | ${years.map((year) => two(mean(year))).join(", ")} | ${two(mean(gross))} |`;
});
const table = [
  `Annual Sharpe ratio of one sensible rule for each, over ${WORLDS} worlds of three years (\`npm run edges\`):`,
  "",
  "| symbol | rule | net of costs, mean | its standard deviation | 5 % to 95 % | by year | before costs |",
  "|---|---|---|---|---|---|---|",
  ...rows,
].join("\n");
const text = readFileSync(README, "utf8");
const [from, to] = [text.indexOf(BEGIN) + BEGIN.length, text.indexOf(END)];
writeFileSync(README, `${text.slice(0, from)}\n${table}\n${text.slice(to)}`);
console.log(table);
