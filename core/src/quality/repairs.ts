/**
 * Repairs of bars, as layers over data that stays as it is: each is applied to what the ones before it left. None is made
 * unasked.
 */
import { PlanTesterError } from "../errors.ts";
import { type BarColumns, checkBars } from "../market/bars.ts";
import { MINUTE_MS } from "../market/timeframe.ts";

/** Bars that open in [fromMs, toMs), UTC milliseconds. */
export interface Span {
  readonly fromMs: number;
  readonly toMs: number;
}

export type Repair =
  /** Leaves bars out. */
  | ({ readonly kind: "drop" } & Span)
  /** Puts prices on the line between their neighbours, to the nearest tick; a bar of it has no range, and keeps its volume. */
  | ({ readonly kind: "interpolate"; readonly tickSize: number } & Span)
  /** Moves bars in time. */
  | ({ readonly kind: "shift"; readonly minutes: number } & Span)
  /** Prices in another unit, or ahead of a split; volumes are divided, so that money stays the same. */
  | ({ readonly kind: "multiply"; readonly factor: number } & Span)
  /** Puts prices onto the grid, each to its nearest tick. */
  | ({ readonly kind: "round"; readonly tickSize: number } & Span)
  /** One bar as it should be. */
  | {
      readonly kind: "correct";
      readonly timeMs: number;
      readonly open: number;
      readonly high: number;
      readonly low: number;
      readonly close: number;
      readonly volume: number;
    };

type Mutable = { -readonly [Name in keyof BarColumns]: BarColumns[Name] };
const PRICES = ["open", "high", "low", "close"] as const;
const names = (columns: BarColumns): (keyof Mutable)[] => ["time", ...PRICES, "volume", ...(columns.spread ? (["spread"] as const) : [])];

const copied = (columns: BarColumns): Mutable =>
  Object.fromEntries(names(columns).map((name) => [name, columns[name]!.slice()])) as Mutable;
const picked = (columns: Mutable, bars: readonly number[]): Mutable =>
  Object.fromEntries(names(columns).map((name) => [name, Float64Array.from(bars, (i) => columns[name]![i]!)])) as Mutable;

/**
 * @param columns as they were imported; not changed
 * @throws PlanTesterError bad-bars where what comes of it is no valid history, naming the repair
 */
export function repaired(columns: BarColumns, repairs: readonly Repair[]): BarColumns {
  if (repairs.length === 0) return columns;
  let bars = copied(columns);
  repairs.forEach((repair, k) => {
    bars = applied(bars, repair);
    try {
      if (bars.time.length === 0) throw new PlanTesterError("bad-bars", "No bar is left.", {});
      checkBars(bars);
    } catch (error) {
      if (!(error instanceof PlanTesterError)) throw error;
      throw new PlanTesterError("bad-bars", `Repair ${k + 1} (${repairWords(repair)}) leaves no valid bars: ${error.message}`, {
        repair: k,
      });
    }
  });
  return bars;
}

function applied(bars: Mutable, repair: Repair): Mutable {
  const { time, volume } = bars;
  const { fromMs, toMs } = spanOf(repair);
  const isIn = (i: number): boolean => time[i]! >= fromMs && time[i]! < toMs;
  const all = Array.from(time.keys());
  switch (repair.kind) {
    case "drop":
      return picked(
        bars,
        all.filter((i) => !isIn(i)),
      );
    case "shift": {
      for (const i of all) if (isIn(i)) time[i] = time[i]! + repair.minutes * MINUTE_MS;
      return inOrder(bars);
    }
    case "multiply":
      for (const i of all) {
        if (!isIn(i)) continue;
        for (const name of PRICES) bars[name][i] = bars[name][i]! * repair.factor;
        volume[i] = volume[i]! / repair.factor;
        if (bars.spread) bars.spread[i] = bars.spread[i]! * repair.factor;
      }
      return bars;
    case "round": {
      for (const i of all) if (isIn(i)) for (const name of PRICES) bars[name][i] = toTick(bars[name][i]!, repair.tickSize);
      return bars;
    }
    case "interpolate": {
      const inside = all.filter(isIn);
      const [first, last] = [inside[0], inside.at(-1)];
      if (first === undefined || last === undefined) return bars;
      const before = bars.close[first - 1] ?? bars.open[last + 1] ?? bars.close[first]!;
      const after = bars.open[last + 1] ?? before;
      inside.forEach((i, k) => {
        const price = toTick(before + ((after - before) * (k + 1)) / (inside.length + 1), repair.tickSize);
        for (const name of PRICES) bars[name][i] = price;
      });
      return bars;
    }
    case "correct": {
      const i = time.indexOf(repair.timeMs);
      if (i < 0) return bars;
      for (const name of [...PRICES, "volume"] as const) bars[name][i] = repair[name];
      return bars;
    }
  }
}

/** A tick of 0.01 is no binary number: what is put on its grid is read from as many decimals as it has. */
const toTick = (price: number, tickSize: number): number =>
  Number((Math.round(price / tickSize) * tickSize).toFixed(Math.max(0, Math.ceil(-Math.log10(tickSize)) + 4)));

/** Sorted by time; of several at one time the first stays. */
function inOrder(bars: Mutable): Mutable {
  const order = Array.from(bars.time.keys()).sort((a, b) => bars.time[a]! - bars.time[b]! || a - b);
  return picked(
    bars,
    order.filter((i, k) => k === 0 || bars.time[order[k - 1]!] !== bars.time[i]),
  );
}

/** The bars that a repair is about. */
export const spanOf = (repair: Repair): Span => (repair.kind === "correct" ? { fromMs: repair.timeMs, toMs: repair.timeMs + 1 } : repair);

/** What a repair does, in words, without when. */
export function repairWords(repair: Repair): string {
  switch (repair.kind) {
    case "drop":
      return "bars left out";
    case "interpolate":
      return "prices put between their neighbours";
    case "shift":
      return `bars moved by ${repair.minutes % 60 === 0 ? `${repair.minutes / 60} h` : `${repair.minutes} minutes`}`;
    case "multiply":
      return `prices times ${Number(repair.factor.toPrecision(6))}`;
    case "round":
      return `prices put on the grid of ${repair.tickSize}`;
    case "correct":
      return `one bar set to ${repair.open} ${repair.high} ${repair.low} ${repair.close}`;
  }
}
