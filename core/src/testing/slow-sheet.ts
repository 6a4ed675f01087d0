/** Rules of a sheet read slowly, bar by bar, as their sentences say: what the written program is held against. */
import type { BarSeries } from "../market/bars.ts";
import { wallTimeOf } from "../market/calendar.ts";
import { resample } from "../market/resample.ts";
import type { SheetRow, SheetTest, SheetValue, Where } from "../sheet/sheet.ts";
import { SHEET_WEEKDAYS } from "../sheet/sheet.ts";
import { studyNamed } from "../studies/catalogue.ts";

/** One thing a bar of some series; undefined where it is not known yet. */
interface Slow<T> {
  readonly series: BarSeries;
  readonly at: readonly (T | undefined)[];
}

const known = (numbers: Iterable<number>): (number | undefined)[] => Array.from(numbers, (x) => (Number.isNaN(x) ? undefined : x));

export class SlowSheet {
  readonly #bars: BarSeries;
  readonly #higher = new Map<string, BarSeries>();

  constructor(bars: BarSeries) {
    this.#bars = bars;
  }

  #seriesOf({ timeframe }: Where): BarSeries {
    if (timeframe === "") return this.#bars;
    const made = this.#higher.get(timeframe) ?? resample(this.#bars, timeframe).series;
    this.#higher.set(timeframe, made);
    return made;
  }

  /** As seen on other bars: what the last bar completed by then shows. */
  #seenOn<T>({ series, at }: Slow<T>, on: BarSeries): Slow<T> {
    if (series === on) return { series, at };
    const seen = Array.from(on.closeTime, (closeMs) => {
      let last = -1;
      for (let j = 0; j < series.length && series.closeTime[j]! <= closeMs; j++) last = j;
      return at[last];
    });
    return { series: on, at: seen };
  }

  /** The finer of both. */
  #meeting(a: BarSeries, b: BarSeries): BarSeries {
    if (a === this.#bars || b === this.#bars) return this.#bars;
    return a.length >= b.length ? a : b;
  }

  #both<A, B, C>(a: Slow<A>, b: Slow<B>, join: (a: A, b: B) => C): Slow<C> {
    const series = this.#meeting(a.series, b.series);
    const [x, y] = [this.#seenOn(a, series).at, this.#seenOn(b, series).at];
    return { series, at: x.map((value, i) => (value === undefined || y[i] === undefined ? undefined : join(value, y[i]!))) };
  }

  #displaced<T>({ series, at }: Slow<T>, ago: number | null): Slow<T> {
    return ago === null ? { series, at } : { series, at: at.map((_value, i) => at[i - ago]) };
  }

  value(value: SheetValue): Slow<number> {
    if (value.kind === "number") return { series: this.#bars, at: Array.from(this.#bars.close, () => value.value) };
    return this.#displaced(this.#bare(value), value.ago);
  }

  /** A number has no bars of its own: it takes those of what it stands beside. */
  #operands(left: SheetValue, right: SheetValue): [Slow<number>, Slow<number>] {
    const [a, b] = [this.value(left), this.value(right)];
    if (left.kind === "number") return [{ series: b.series, at: b.at.map(() => left.value) }, b];
    return [a, right.kind === "number" ? { series: a.series, at: a.at.map(() => right.value) } : b];
  }

  #bare(value: Exclude<SheetValue, { kind: "number" }>): Slow<number> {
    switch (value.kind) {
      case "price": {
        const series = this.#seriesOf(value.on);
        return { series, at: known(series[value.price] ?? new Float64Array(series.length)) };
      }
      case "study":
        return this.#study(value);
      case "math": {
        const [a, b] = this.#operands(value.left, value.right);
        return this.#both(a, b, { plus: add, minus: subtract, times: multiply, over: divide }[value.by]);
      }
      case "size of": {
        const { series, at } = this.value(value.value);
        return { series, at: at.map((x) => (x === undefined ? undefined : Math.abs(x))) };
      }
      case "since":
        return this.#since(value);
      case "bars since": {
        const { series, at } = this.test(value.event);
        return { series, at: at.map((_x, i) => back(at, i)) };
      }
      case "count": {
        const { series, at } = this.test(value.event);
        return {
          series,
          at: at.map((_x, i) => {
            const last = i + 1 >= value.bars ? at.slice(i + 1 - value.bars, i + 1) : [undefined];
            return last.includes(undefined) ? undefined : last.filter((holds) => holds).length;
          }),
        };
      }
      case "of two": {
        const [a, b] = this.#operands(value.left, value.right);
        return this.#both(a, b, value.which === "larger" ? Math.max : Math.min);
      }
      case "own":
        throw new Error("Own modules are not read slowly.");
    }
  }

  #study({ study, output, numbers, sources, on }: Extract<SheetValue, { kind: "study" }>): Slow<number> {
    const definition = studyNamed(study);
    const given = sources.map((source) => this.value(source));
    const takesBars = definition.inputs.some(({ kind }) => kind === "bars");
    const all = [...(takesBars ? [this.#seriesOf(on)] : []), ...given.map(({ series }) => series)];
    const series = all.reduce((a, b) => this.#meeting(a, b));
    const columns = given.map((one) => {
      const values = Float64Array.from(this.#seenOn(one, series).at, (x) => x ?? Number.NaN);
      const first = values.findIndex((x) => !Number.isNaN(x));
      return { values, first: first < 0 ? values.length : first };
    });
    const made = definition.compute({ bars: series, columns, numbers })[definition.outputs.indexOf(output)]!;
    return { series, at: Array.from(made.values, (x, i) => (i < made.first ? undefined : x)) };
  }

  #since({ what, value, event }: Extract<SheetValue, { kind: "since" }>): Slow<number> {
    const happened = this.test(event);
    const { at } = this.#seenOn(this.value(value), happened.series);
    return {
      series: happened.series,
      at: happened.at.map((_x, i) => {
        const bars = back(
          happened.at,
          i,
          at.findIndex((x) => x !== undefined),
        );
        if (bars === undefined) return undefined;
        const since = at.slice(i - bars, i + 1) as number[];
        if (what === "value") return since[0];
        const numbers = since.filter((x) => !Number.isNaN(x));
        if (numbers.length === 0) return Number.NaN;
        return what === "highest" ? Math.max(...numbers) : Math.min(...numbers);
      }),
    };
  }

  test(test: SheetTest): Slow<boolean> {
    const bars = this.#bars;
    switch (test.kind) {
      case "compare": {
        const { relation } = test;
        const [a, b] = this.#operands(test.left, test.right);
        if (relation === "is above") return this.#both(a, b, (x, y) => x > y);
        if (relation === "is below") return this.#both(a, b, (x, y) => x < y);
        if (relation === "is at or above") return this.#both(a, b, (x, y) => x >= y);
        if (relation === "is at or below") return this.#both(a, b, (x, y) => x <= y);
        const { series, at } = this.#both(a, b, (x, y) => Math.sign(x - y));
        const isUp = (i: number): boolean => at[i]! > 0 && !(at[i - 1]! > 0);
        const isDown = (i: number): boolean => at[i]! < 0 && !(at[i - 1]! < 0);
        return {
          series,
          at: at.map((x, i) => {
            if (x === undefined || at[i - 1] === undefined) return undefined;
            return (relation !== "crosses below" && isUp(i)) || (relation !== "crosses above" && isDown(i));
          }),
        };
      }
      case "between": {
        const fromLow = this.test({
          kind: "compare",
          left: test.value,
          relation: test.ends === "both" || test.ends === "lower" ? "is at or above" : "is above",
          right: test.low,
        });
        const toHigh = this.test({
          kind: "compare",
          left: test.value,
          relation: test.ends === "both" || test.ends === "upper" ? "is at or below" : "is below",
          right: test.high,
        });
        return this.#both(fromLow, toHigh, (x, y) => x && y);
      }
      case "trend": {
        const { series, at } = this.value(test.value);
        const goesOn = (i: number): boolean => (test.way === "rising" ? at[i]! > at[i - 1]! : at[i]! < at[i - 1]!);
        return {
          series,
          at: at.map((_x, i) => (at[i - test.bars] === undefined ? undefined : range(i - test.bars + 1, i).every(goesOn))),
        };
      }
      case "bar": {
        const series = this.#seriesOf(test.on);
        const before = (i: number): number | undefined => (test.against === "open" ? series.open[i] : series.close[i - 1]);
        return {
          series,
          at: Array.from(series.close, (close, i) =>
            before(i) === undefined ? undefined : test.way === "up" ? close > before(i)! : close < before(i)!,
          ),
        };
      }
      case "time":
        return {
          series: bars,
          at: Array.from(bars.time, (ms, i) => {
            const opens = wallTimeOf(bars.sessions.openMinute[bars.session[i]!]! + (ms - bars.sessions.openMs[bars.session[i]!]!) / 60_000);
            return test.from <= test.to ? opens >= test.from && opens < test.to : opens >= test.from || opens < test.to;
          }),
        };
      case "weekday":
        return {
          series: bars,
          at: Array.from(bars.session, (s) => {
            const day = SHEET_WEEKDAYS[(new Date(bars.sessions.dates[s]!).getUTCDay() + 6) % 7]!;
            return test.days.includes(day);
          }),
        };
    }
  }

  row({ test, heldFor, within }: SheetRow): Slow<boolean> {
    const now = this.test(test);
    const { series } = now;
    const held =
      heldFor === null
        ? now.at
        : now.at.map((_x, i) => (now.at[i - heldFor + 1] === undefined ? undefined : range(i - heldFor + 1, i).every((k) => now.at[k])));
    if (within === null) return { series, at: held };
    return {
      series,
      at: held.map((_x, i) => (held[i - within] === undefined ? undefined : range(i - within, i).some((k) => held[k]))),
    };
  }

  /** On which of the run's own bars a row holds. A moment of longer bars is one of the bar at whose close the longer is completed. */
  bits(row: SheetRow): boolean[] {
    const { series, at } = this.row(row);
    const isMoment = row.test.kind === "compare" && row.test.relation.startsWith("crosses") && row.heldFor === null && row.within === null;
    const place = this.#seenOn({ series, at: at.map((_x, i) => i) }, this.#bars).at;
    return place.map((k, i) => k !== undefined && at[k] === true && (!isMoment || k !== place[i - 1]));
  }
}

const add = (a: number, b: number): number => a + b;
const subtract = (a: number, b: number): number => a - b;
const multiply = (a: number, b: number): number => a * b;
const divide = (a: number, b: number): number => a / b;

const range = (from: number, to: number): number[] => Array.from({ length: to - from + 1 }, (_none, k) => from + k);

/** Bars since it last held, not looking further back than `from`; undefined before it first did. */
function back(at: readonly (boolean | undefined)[], i: number, from = 0): number | undefined {
  for (let k = i; k >= Math.max(0, from); k--) if (at[k] === true) return i - k;
  return undefined;
}
