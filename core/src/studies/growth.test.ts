/** Studies on a series that grows: to the last bit what they are on the whole of it, whatever its last bar was meanwhile. */
import { expect, test } from "vitest";
import type { BarSeries } from "../market/bars.ts";
import { sliceSeries } from "../market/bars.ts";
import { Random } from "../random.ts";
import { tradedWalk } from "../testing/bars.ts";
import { STUDIES } from "./catalogue.ts";
import { cci } from "./cci.ts";
import type { ColumnValues, StudyDefinition } from "./definition.ts";
import { ColumnMemory, newColumn, startAt, within } from "./growth.ts";

const LENGTH = 700;
const FIELDS = ["open", "high", "low", "close", "volume"] as const;

/** So many bars, the last of which has prices that it does not end with. */
function withOpenBar(bars: BarSeries, length: number, random: Random): BarSeries {
  const part = sliceSeries(bars, 0, length);
  const wild = Object.fromEntries(
    FIELDS.map((name) => {
      const values = part[name].slice();
      values[length - 1] = 10 + 400 * random.next();
      return [name, values];
    }),
  );
  return { ...part, ...wild };
}

function valuesOf(study: StudyDefinition, bars: BarSeries, span: number | null): readonly ColumnValues[] {
  const given = [bars.close, bars.high, bars.volume];
  const columns = study.inputs.filter(({ kind }) => kind === "column").map((_input, k) => ({ values: given[k]!, first: 0 }));
  const numbers = study.inputs.flatMap((input) =>
    input.kind !== "number" ? [] : [span !== null && input.whole ? Math.min(span, input.max) : input.default],
  );
  return study.compute({ bars, columns, numbers });
}

test.each(
  STUDIES.flatMap((study) => {
    const spans = study.inputs.some((input) => input.kind === "number" && input.whole) ? [null, 3, 150] : [null];
    return spans.map((span) => [study.name, span, study] as const);
  }),
)("%s with spans of %s goes on as if it were computed afresh", (_name, span, study) => {
  const bars = tradedWalk(LENGTH, 7);
  // A stretch that stands still, and is left again.
  for (const name of ["open", "high", "low", "close"] as const) bars[name].fill(bars.close[300]!, 300, 480);
  const whole = valuesOf(study, bars, span);
  // Deviations of long windows are added up in the order of all values of a column, which is not known on fewer bars.
  const isRounded = study === cci && span === 150;
  const isSame = (a: number, b: number): boolean => Object.is(a, b) || (isRounded && Math.abs(a - b) < 1e-9 * Math.abs(b));
  const random = new Random(span ?? 1);
  const memory = new ColumnMemory();
  let checked = 0;
  for (let length = 1; length < LENGTH; length += random.next() < 0.7 ? 1 : 1 + Math.floor(random.next() * 40)) {
    const open = withOpenBar(bars, length, random);
    const grown = within(memory, length, () => valuesOf(study, open, span));
    grown.forEach(({ values, first }, output) => {
      expect(values).toHaveLength(length);
      if (first < length - 1) expect(first).toBe(whole[output]!.first);
      for (let i = checked; i < length - 1; i++)
        expect(isSame(values[i]!, whole[output]!.values[i]!), `${study.outputs[output]} at ${i} of ${length}`).toBe(true);
    });
    checked = Math.max(0, length - 1);
  }
  const last = within(memory, LENGTH, () => valuesOf(study, bars, span));
  last.forEach(({ values }, output) => {
    expect(values.every((value, i) => isSame(value, whole[output]!.values[i]!))).toBe(true);
  });
});

test("what costs time is the bars that have come, not those that were there", () => {
  let written = 0;
  const doubled = (source: Float64Array): Float64Array => {
    const out = newColumn(source.length, 0);
    for (let i = startAt(0); i < source.length; i++) {
      out[i] = 2 * source[i]!;
      written++;
    }
    return out;
  };
  const source = Float64Array.from({ length: 10_000 }, (_none, i) => i);
  const memory = new ColumnMemory();
  within(memory, 9000, () => doubled(source.subarray(0, 9000)));
  expect(written).toBe(9000);
  for (let length = 9001; length <= 10_000; length++) within(memory, length, () => doubled(source.subarray(0, length)));
  expect(written).toBe(9000 + 2 * 1000);
});

test("a column that begins elsewhere than before, or a series that is shorter, is computed afresh", () => {
  const memory = new ColumnMemory();
  const from = (first: number, length: number, value: number): Float64Array =>
    within(memory, length, () => {
      const out = newColumn(length, first);
      for (let i = startAt(first); i < length; i++) out[i] = value;
      return out;
    }).slice();
  expect(from(2, 5, 1)).toEqual(Float64Array.of(Number.NaN, Number.NaN, 1, 1, 1));
  expect(from(2, 6, 2)).toEqual(Float64Array.of(Number.NaN, Number.NaN, 1, 1, 2, 2));
  expect(from(1, 6, 3)).toEqual(Float64Array.of(Number.NaN, 3, 3, 3, 3, 3));
  expect(from(1, 4, 4)).toEqual(Float64Array.of(Number.NaN, 4, 4, 4));
});
