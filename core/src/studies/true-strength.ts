import { changeOf } from "./change.ts";
import { barsInput, type ColumnValues, EXPONENTIAL, SOURCE_COLUMN, type StudyDefinition } from "./definition.ts";
import { exponentialAverage } from "./smoothing.ts";
import { barByBar } from "./windows.ts";

export const trueStrength: StudyDefinition = {
  name: "trueStrength",
  group: "oscillator",
  unit: "-100 to 100",
  summary: "True strength: twice smoothed change against twice smoothed size of change, and its signal line",
  formula:
    "line = 100 * ema(ema(x - x[1], slow), fast) / ema(ema(abs(x - x[1]), slow), fast), 0 when nothing moved; signal = ema(line, smoothing)",
  warmUp: "slow + fast - 1 bars after the source's first value for the line, smoothing - 1 more for the signal",
  source: "Blau 1995, Momentum, Direction, and Divergence",
  pane: "own",
  inputs: [SOURCE_COLUMN, barsInput("slow", 25), barsInput("fast", 13), barsInput("smoothing", 7)],
  outputs: ["line", "signal"],
  settle: EXPONENTIAL,
  compute: ({ columns, numbers }) => {
    const [slow, fast, smoothing] = numbers as readonly [number, number, number];
    const twice = (source: ColumnValues): ColumnValues => exponentialAverage(exponentialAverage(source, slow), fast);
    const change = twice(changeOf(columns[0]!, 1, (now, then) => now - then));
    const size = twice(changeOf(columns[0]!, 1, (now, then) => Math.abs(now - then)));
    const line = barByBar([change, size], (i) => (size.values[i] === 0 ? 0 : (100 * change.values[i]!) / size.values[i]!));
    return [line, exponentialAverage(line, smoothing)];
  },
};
