import { describe, expect, test } from "vitest";
import { packColumns, unpackColumns } from "./binary.ts";
import { readConstraint } from "./constraint.ts";
import { readInstrument } from "./instrument-file.ts";
import { runSettingsSchema } from "./schemas.ts";
import { valueWords } from "./setting-words.ts";
import { countVariants, valuesOf } from "./sweep-space.ts";
import { variantsOf } from "./testing.ts";
import { check } from "./validate.ts";
import { countWindows } from "./walk-windows.ts";

describe("packed columns", () => {
  test("come back as they were, with names that are not ASCII", () => {
    const columns = [
      { name: "équity", values: Float64Array.of(1.5, Number.NaN, -0, 1e300) },
      { name: "none", values: new Float64Array(0) },
      { name: "part", values: Float64Array.of(9, 1, 2, 9).subarray(1, 3) },
    ];
    const { meta, columns: back } = unpackColumns<{ zone: string }>(packColumns({ zone: "Tórshavn" }, columns).buffer as ArrayBuffer);
    expect(meta).toEqual({ zone: "Tórshavn" });
    expect(back.équity).toEqual(columns[0]!.values);
    expect(back.none!.length).toBe(0);
    expect(Array.from(back.part!)).toEqual([1, 2]);
  });

  test("of bytes and of single floats stand beside the others, each as it was", () => {
    const { columns, singles, bytes } = unpackColumns(
      packColumns({}, [
        { name: "b", values: Uint8Array.of(0, 2, 255) },
        { name: "f", values: Float32Array.of(0.5, Number.NaN, -3) },
        { name: "d", values: Float64Array.of(0.1) },
        { name: "f2", values: new Float32Array(0) },
      ]).buffer as ArrayBuffer,
    );
    expect([bytes.b, singles.f, columns.d, singles.f2]).toEqual([
      Uint8Array.of(0, 2, 255),
      Float32Array.of(0.5, Number.NaN, -3),
      Float64Array.of(0.1),
      new Float32Array(0),
    ]);
    expect([Object.keys(bytes), Object.keys(singles), Object.keys(columns)]).toEqual([["b"], ["f", "f2"], ["d"]]);
  });

  test.each([1, 2, 3, 5, 8, 13])("stay aligned with a name of %i letters", (length) => {
    const name = "n".repeat(length);
    expect(unpackColumns(packColumns({}, [{ name, values: Float64Array.of(7) }]).buffer as ArrayBuffer).columns[name]?.[0]).toBe(7);
  });
});

test("windows of a walk-forward are counted as they are laid out: one after the other, the last at least half", () => {
  for (let sessions = 0; sessions < 60; sessions++)
    for (const [inSample, outOfSample] of [
      [5, 1],
      [5, 3],
      [8, 4],
      [10, 7],
    ] as const) {
      let laid = 0;
      for (let start = inSample; start + outOfSample / 2 <= sessions; start += outOfSample) laid++;
      expect(countWindows(sessions, inSample, outOfSample), `${sessions}, ${inSample}, ${outOfSample}`).toBe(laid);
    }
});

test.each([
  [null, "none"],
  ["", "none"],
  [[], "none"],
  [["KELP", "BRIN"], "KELP, BRIN"],
  [{ name: "Tight" }, "Tight"],
  [{ spreadTicks: 1 }, "own"],
  [false, "false"],
  [2.5, "2.5"],
])("the value %o in words is %s", (value, words) => {
  expect(valueWords(value)).toBe(words);
});

describe("an instrument file", () => {
  test("needs three fields; the rest has defaults", () => {
    expect(readInstrument({ symbol: "REEF", tickSize: 0.05, pointValue: 10 })).toMatchObject({
      name: "REEF",
      decimals: 2,
      minQuantity: 1,
      quantityStep: 1,
      calendar: { zone: "UTC" },
    });
  });

  test("costs what it names, and nothing else", () => {
    const { costs } = readInstrument({
      symbol: "REEF",
      tickSize: 0.05,
      pointValue: 10,
      costs: { commissionPerUnit: 2.4, financingLong: -0.2 },
    });
    expect(costs).toEqual({
      ...{ commissionPerOrder: 0, commissionPerUnit: 2.4, commissionPercent: 0, commissionMinimum: 0, spreadTicks: 0, slippageTicks: 0 },
      ...{ slippageRange: 0, slippageRandomTicks: 0, financingLong: -0.2, financingShort: 0 },
    });
    expect(() => readInstrument({ symbol: "REEF", tickSize: 0.05, pointValue: 10, costs: { spread: 1 } })).toThrow(/spread/);
  });

  test.each([
    [{ symbol: "REEF", tickSize: 0, pointValue: 1 }, /tickSize must be > 0 \(it is 0\)/],
    [{ tickSize: 1, pointValue: 1 }, /the instrument lacks "symbol"/],
    [{ symbol: "REEF", tickSize: 1, pointValue: 1, colour: "red" }, /field "colour" that is not known/],
    [
      { symbol: "REEF", tickSize: 1, pointValue: 1, calendar: { zone: "UTC", weekly: [{ day: 8, open: "07:00", close: "20:00" }] } },
      /calendar\.weekly\.0\.day must be <= 7/,
    ],
    ["REEF", /must be object/],
  ])("%o is refused in words", (file, message) => {
    expect(() => readInstrument(file)).toThrow(message);
  });
});

test("settings get their defaults, and what does not fit is named with its value", () => {
  const settings = { symbol: "KELP", timeframe: "15m", from: "2025-01-01", to: "2025-02-01", cash: 1000, costs: "market", path: "assumed" };
  expect(check(runSettingsSchema, { ...settings }, "the settings")).toMatchObject({ basis: "last", throughTicks: 0, seed: 1, riskFree: 0 });
  expect(() => check(runSettingsSchema, { ...settings, path: "wild", from: "soon" }, "the settings")).toThrow(
    /path must be one of assumed, finer, adverse \(it is "wild"\)/,
  );
});

describe("the lattice of a sweep", () => {
  const number = (name: string, min: number | null, max: number | null) => ({
    name,
    kind: "decimal" as const,
    default: 1,
    label: name,
    min,
    max,
    step: null,
    unit: "",
    group: "",
    help: "",
    choices: [],
  });
  const specs = [number("a", 0, 10), number("b", null, null)];

  test.each([
    [{ input: "a", from: 1, to: 3, step: 1 }, [1, 2, 3]],
    [{ input: "a", from: 0, to: 0.3, step: 0.1 }, [0, 0.1, 0.2, 0.3]],
    [{ input: "a", from: 1, to: 2, step: 0.4 }, [1, 1.4, 1.8]],
    [{ input: "a", from: 3, to: 1, step: 1 }, []],
    [{ input: "a", values: [5, 7] }, [5, 7]],
  ])("%o stands for %o", (range, values) => {
    expect(valuesOf(range)).toEqual(values);
  });

  test("every combination once, the last range moving fastest, on top of the base", () => {
    const ranges = [
      { input: "a", from: 1, to: 2, step: 1 },
      { input: "b", values: [10, 20, 30] },
    ];
    const variants = variantsOf(specs, { c: 5 }, { ranges });
    expect(countVariants(ranges)).toBe(6);
    expect(variants.map(({ a, b }) => `${a}/${b}`)).toEqual(["1/10", "1/20", "1/30", "2/10", "2/20", "2/30"]);
    expect(variants.every(({ c }) => c === 5)).toBe(true);
  });

  test.each([
    [{ input: "z", values: [1] }, /no input "z"/],
    [{ input: "a", from: 0, to: 11, step: 1 }, /the most is 10/],
    [{ input: "a", from: 5, to: 1, step: 1 }, /is empty: its end lies before its start/],
    [{ input: "b", from: 1, to: 1_000_000, step: 1 }, /the most is 200000/],
  ])("%o is refused", (range, message) => {
    expect(() => variantsOf(specs, {}, { ranges: [range] })).toThrow(message);
  });

  test("more axes than can be searched are refused", () => {
    const ranges = Array.from({ length: 9 }, () => ({ input: "a", values: [1] }));
    expect(() => variantsOf(specs, {}, { ranges })).toThrow(/At most 8 inputs/);
  });

  test("conditions between inputs leave variants out", () => {
    const ranges = [
      { input: "a", from: 1, to: 4, step: 1 },
      { input: "b", from: 1, to: 4, step: 1 },
    ];
    const variants = variantsOf(specs, {}, { ranges, constraints: ["a < b", "a + b <= 2 * (3 - 0.5)"] });
    expect(variants.map(({ a, b }) => `${a}/${b}`)).toEqual(["1/2", "1/3", "1/4", "2/3"]);
    expect(variantsOf(specs, {}, { ranges, constraints: ["a > 100"] })).toEqual([]);
  });

  test.each([
    ["a", /a comparison such as < is missing/],
    ["a < ", /it ends too early/],
    ["a < speed", /the plan has no input "speed"; it has a, b/],
    ["a < (b", /a bracket is not closed/],
    ["a < b b", /"b" is left over/],
    ["a < $", /"\$" stands where/],
  ])("the condition %s is refused", (text, message) => {
    expect(() => readConstraint(text, ["a", "b"])).toThrow(message);
  });

  test("a number of points is spread evenly over the lattice, each once, the same for the same seed", () => {
    const ranges = [
      { input: "a", from: 1, to: 10, step: 1 },
      { input: "b", from: 1, to: 100, step: 1 },
    ];
    const spread = (seed: number) =>
      variantsOf(specs, {}, { ranges, search: { method: "spread", count: 200, seed } }).map(({ a, b }) => `${a}/${b}`);
    expect(new Set(spread(1)).size).toBe(200);
    expect(spread(1)).toEqual(spread(1));
    expect(spread(2)).not.toEqual(spread(1));
    // Each of the ten columns gets about its tenth.
    for (let a = 1; a <= 10; a++) expect(Math.abs(spread(1).filter((point) => point.startsWith(`${a}/`)).length - 20)).toBeLessThan(4);
    expect(variantsOf(specs, {}, { ranges, search: { method: "spread", count: 5000, seed: 1 } }).length).toBe(1000);
  });
});
