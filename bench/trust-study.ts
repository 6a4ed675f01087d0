/**
 * What the trust figures say of plans tuned on instruments whose truth is known. A crossing of two averages, followed or
 * faded, is tuned over about 1,000 settings on one year of hourly bars, in worlds that differ by their seed alone; what was
 * chosen is then tried on the next year. Writes docs/trust-study.md.
 */
import { writeFileSync } from "node:fs";
import { cpus } from "node:os";
import { join } from "node:path";
import {
  type BarSeries,
  chanceVariance,
  deflatedSharpe,
  effectiveTrials,
  type InputValues,
  makeSeries,
  overfitting,
  probabilisticSharpe,
  resample,
  resolveSettings,
  returnShape,
  SWEEP_FIGURES,
  sampleDeviation,
  sliceByTime,
} from "@plan-tester/core";
import { generateHistory, instrumentNamed } from "@plan-tester/demo";
import { workspaceRoot } from "@plan-tester/demo/root";
import { PlanProcess, sweepPlan } from "@plan-tester/runner";

const SOURCE = `export default plan({
  title: "Tuned",
  inputs: {
    fast: whole(10, { min: 2, max: 400 }),
    slow: whole(40, { min: 3, max: 800 }),
    stop: decimal(2, { min: 0.1, max: 20 }),
    follow: yesNo(true),
  },
  build({ bars, inputs, when, enter, position }) {
    const [fast, slow] = [ema(bars.close, inputs.fast), ema(bars.close, inputs.slow)];
    const options = () => ({ reverse: true, stopLoss: percent(inputs.stop), size: equityPercent(90) });
    when(crossesAbove(fast, slow), () => (inputs.follow ? enter.long(options()) : enter.short(options())));
    when(crossesBelow(fast, slow), () => (inputs.follow ? enter.short(options()) : enter.long(options())));
  },
});
`;
const variants: InputValues[] = [];
for (const follow of [true, false])
  for (const stop of [1, 2, 4, 8])
    for (let fast = 3; fast <= 30; fast += 3)
      for (let slow = fast + 6; slow <= fast + 120; slow += 9) variants.push({ fast, slow, stop, follow });
const YEAR = 252;
const BELIEF = 0.95;
const WORLDS = Number(process.env.STUDY_WORLDS ?? 24);
const [FIRST, SECOND, END] = [Date.UTC(2023, 2, 1), Date.UTC(2024, 2, 1), Date.UTC(2025, 2, 1)];

interface Outcome {
  readonly symbol: string;
  readonly sharpe: number;
  readonly net: number;
  readonly alone: number;
  readonly deflated: number;
  /** The same with the spread that ratios without skill have, rather than the one found among the trials. */
  readonly deflatedByChance: number;
  /** The same with the independent settings that they amount to. */
  readonly deflatedByEffective: number;
  readonly effective: number;
  readonly overfit: number;
  readonly later: number;
  readonly laterNet: number;
}

const hourly = (symbol: string, seed: number): BarSeries => {
  const { calendar } = instrumentNamed(symbol)!;
  return resample(makeSeries(generateHistory(symbol, END, seed).columns, "1m", calendar), "1h").series;
};

async function tuned(process: PlanProcess, symbol: string, seed: number): Promise<Outcome> {
  const instrument = instrumentNamed(symbol)!;
  const series = hourly(symbol, seed);
  const feed = (name: string, from: number, to: number) => [
    { instrument, data: { key: `${symbol} ${seed} ${name}`, series: sliceByTime(series, from, to), finer: null } },
  ];
  const settings = resolveSettings({ costs: instrument.costs });
  const stretches = [feed("first", FIRST, SECOND), feed("second", SECOND, END)];
  const { figures, daily } = await sweepPlan(process, {
    source: SOURCE,
    variants,
    stretches,
    settings,
    dailyOf: variants.map((_variant, v) => v),
  });
  const width = SWEEP_FIGURES.length;
  const at = (variant: number, stretch: number, figure: (typeof SWEEP_FIGURES)[number]): number =>
    figures[(variant * 2 + stretch) * width + SWEEP_FIGURES.indexOf(figure)]!;
  const sharpes = variants.map((_variant, v) => at(v, 0, "sharpe")).map((value) => (Number.isFinite(value) ? value : 0));
  const best = sharpes.indexOf(Math.max(...sharpes));
  const days = daily!.length / variants.length;
  const shape = returnShape(daily!.subarray(best * days, (best + 1) * days))!;
  const effective = Math.max(1, effectiveTrials(daily!, variants.length));
  return {
    symbol,
    sharpe: sharpes[best]!,
    net: at(best, 0, "netProfit"),
    alone: probabilisticSharpe(shape),
    deflated: deflatedSharpe(shape, variants.length, sampleDeviation(sharpes)! ** 2 / YEAR),
    deflatedByChance: deflatedSharpe(shape, variants.length, chanceVariance(days)),
    deflatedByEffective: deflatedSharpe(shape, effective, chanceVariance(days)),
    effective,
    overfit: overfitting(daily!, variants.length, 12).probability,
    later: at(best, 1, "sharpe"),
    laterNet: at(best, 1, "netProfit"),
  };
}

const processes = Array.from({ length: cpus().length }, () => new PlanProcess());
const tasks = ["GANN", "TIDE", "KELP", "BRIN"].flatMap((symbol) =>
  Array.from({ length: WORLDS }, (_none, k) => ({ symbol, seed: 1000 + k })),
);
const outcomes: Outcome[] = [];
let next = 0;
await Promise.all(
  processes.map(async (process) => {
    while (next < tasks.length) {
      const { symbol, seed } = tasks[next++]!;
      outcomes.push(await tuned(process, symbol, seed));
    }
  }),
);
for (const process of processes) process.kill("done");

const share = (values: readonly boolean[]): string => `${values.filter(Boolean).length} of ${values.length}`;
const middle = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
const rows = ["GANN", "TIDE", "KELP", "BRIN"].map((symbol) => {
  const own = outcomes.filter((outcome) => outcome.symbol === symbol);
  const cells = [
    symbol,
    middle(own.map(({ sharpe }) => sharpe)).toFixed(2),
    middle(own.map(({ later }) => later)).toFixed(2),
    share(own.map(({ laterNet }) => laterNet > 0)),
    share(own.map(({ alone }) => alone >= BELIEF)),
    share(own.map(({ deflated }) => deflated >= BELIEF)),
    share(own.map(({ deflatedByChance }) => deflatedByChance >= BELIEF)),
    middle(own.map(({ effective }) => effective)).toFixed(1),
    share(own.map(({ deflatedByEffective }) => deflatedByEffective >= BELIEF)),
    middle(own.map(({ overfit }) => overfit * 100))
      .toFixed(0)
      .concat(" %"),
    share(own.map(({ overfit }) => overfit < 0.1)),
  ];
  return `| ${cells.join(" | ")} |`;
});
const believed = (of: (outcome: Outcome) => boolean): { all: number; right: number } => {
  const found = outcomes.filter(of);
  return { all: found.length, right: found.filter(({ laterNet }) => laterNet > 0).length };
};
const naive = believed(({ alone }) => alone >= BELIEF);
const deflated = believed(({ deflated: value }) => value >= BELIEF);
const chance = believed(({ deflatedByChance }) => deflatedByChance >= BELIEF);
const effective = believed(({ deflatedByEffective }) => deflatedByEffective >= BELIEF);
const byOverfit = believed(({ overfit }) => overfit < 0.1);
const both = believed(({ deflatedByChance, overfit }) => deflatedByChance >= BELIEF && overfit < 0.1);
const gann = outcomes.filter(({ symbol }) => symbol === "GANN");
const text = `# What the trust figures are worth
Made by \`npm run study\` (seeded; the same figures on every machine). One plan, a crossing of two averages that is followed or faded, with a stop, is tuned over ${variants.length.toLocaleString("en-GB")} settings on a year of hourly bars (1 March 2023 to 29 February 2024), the best Sharpe ratio is taken, and the chosen setting is tried, unchanged, on the year after. Each instrument of the demo world is made ${WORLDS} times, with seeds of its own. The truth is known (\`demo/README.md\`): GANN has a fair price at every minute, TIDE's bias by the hour fades, half of each move of KELP comes back within days, BRIN goes on for weeks where it has gone.

| instrument | best Sharpe, median | the same setting a year later, median | gained a year later | believed by the Sharpe ratio alone (95 %) | believed with all trials counted (95 %) | the same, spread of chance | independent settings, median | spread of chance, independent settings | probability of overfitting, median | under 10 % |
|---|---|---|---|---|---|---|---|---|---|---|
${rows.join("\n")}

- **GANN has nothing in it.** Its best of ${variants.length.toLocaleString("en-GB")} settings would have been believed by the Sharpe ratio alone in ${share(gann.map(({ alone }) => alone >= BELIEF))} worlds, with all trials counted in ${share(gann.map(({ deflated: value }) => value >= BELIEF))}, and with the spread of chance in ${share(gann.map(({ deflatedByChance }) => deflatedByChance >= BELIEF))}.
- Over all instruments, ${naive.all} of ${outcomes.length} best settings pass by the Sharpe ratio alone, of which ${naive.right} gain in the next year; ${deflated.all} pass with all trials counted, of which ${deflated.right} gain.
- **The probability of overfitting tells them apart best here:** it is under 10 % in ${byOverfit.all} worlds, in ${byOverfit.right} of which the chosen setting gains in the next year; at 10 % or more in ${outcomes.length - byOverfit.all}, of which ${outcomes.filter(({ overfit, laterNet }) => overfit >= 0.1 && laterNet > 0).length} gain.
- The deflated ratio compares with the best of so many trials *of the spread that they have*. Here half of the settings follow and half fade, which spreads them far: real differences then count as luck, and hardly anything passes. With the spread that ratios without skill would have, ${chance.all} pass, of which ${chance.right} gain; those that also have a probability of overfitting under 10 % are ${both.all}, of which ${both.right} gain.
- The settings of a lattice resemble one another: by the participation ratio of their correlations they amount to few independent ones. Counted so, with the spread of chance, ${effective.all} pass, of which ${effective.right} gain.
- What this does not show: one plan, one timeframe, one year. Real edges of a small size are turned away with the luck.
`;
writeFileSync(join(workspaceRoot(), "docs", "trust-study.md"), text);
console.log(text);
process.exit(0);
