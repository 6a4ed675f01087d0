import Papa from "papaparse";
import { describe, expect, test } from "vitest";
import { walk } from "../testing/bars.ts";
import { CsvBarReader } from "./csv-bars.ts";
import { guessDateFormat } from "./date-order.ts";
import type { BarLayout } from "./file-layout.ts";
import { guessLayout } from "./guess-layout.ts";
import { guessTimeframe } from "./spacing.ts";
import { guessTickSize } from "./tick-size.ts";
import { type DateFormat, TimeReader } from "./time-text.ts";

const encode = (text: string): Uint8Array => new TextEncoder().encode(text);
const PLAIN: BarLayout = {
  delimiter: ",",
  headerLines: 1,
  time: 0,
  clock: null,
  zoneColumn: null,
  open: 1,
  high: 2,
  low: 3,
  close: 4,
  volume: 5,
  dateFormat: "iso",
  decimal: ".",
  zone: "UTC",
  stamp: "open",
};

function parse(text: string, layout: Partial<BarLayout> = {}, timeframe = "1m") {
  const reader = new CsvBarReader({ ...PLAIN, ...layout }, timeframe);
  reader.feed(encode(text));
  return reader.finish();
}

describe("times", () => {
  test.each<[DateFormat, string, string, string, string]>([
    ["iso", "2025-03-31T07:15:00Z", "", "UTC", "2025-03-31T07:15:00.000Z"],
    ["iso", "2025-03-31 07:15", "", "Atlantic/Faroe", "2025-03-31T06:15:00.000Z"],
    ["iso", "2025-01-31 07:15:30", "", "Atlantic/Faroe", "2025-01-31T07:15:30.000Z"],
    ["iso", "2025-03-31T07:15:00+02:00", "", "UTC", "2025-03-31T05:15:00.000Z"],
    ["iso", "2025-03-31", "07:15", "UTC", "2025-03-31T07:15:00.000Z"],
    ["ymd", "2025/03/31 7:15", "", "UTC", "2025-03-31T07:15:00.000Z"],
    ["dmy", "31.03.2025", "07:15:20", "UTC", "2025-03-31T07:15:20.000Z"],
    ["mdy", "3/31/2025 07:15", "", "UTC", "2025-03-31T07:15:00.000Z"],
    ["compact", "20250331", "071500", "UTC", "2025-03-31T07:15:00.000Z"],
    ["compact", "202503310715", "", "UTC", "2025-03-31T07:15:00.000Z"],
    ["unix-s", "1743405300", "", "Atlantic/Faroe", "2025-03-31T07:15:00.000Z"],
    ["unix-ms", "1743405300000", "", "UTC", "2025-03-31T07:15:00.000Z"],
  ])("%s: %s %s in %s", (format, text, clock, zone, expected) => {
    const bytes = encode(`${text}${clock}`);
    const at = new TimeReader(format, zone).read(bytes, 0, text.length, { start: text.length, end: bytes.length });
    expect(new Date(at).toISOString()).toBe(expected);
  });

  test.each<[DateFormat, string]>([
    ["iso", "2025-02-30"],
    ["iso", "yesterday"],
    ["iso", "2025-03-31 25:00"],
    ["dmy", "03.31.2025"],
    ["unix-s", "12a"],
    ["unix-ms", "1743405300000000"],
    ["iso", "2025-03-31 24:30"],
    ["dmy", "31.03/2025"],
    ["week", "2025-W54-1"],
    ["unix-ms", ""],
  ])("%s: %s is no time", (format, text) => {
    expect(new TimeReader(format, "UTC").read(encode(text), 0, text.length)).toBeNaN();
  });
});

describe("lines that are not bars are left out by number", () => {
  const { columns, rows, rejected, problems } = parse(
    [
      "time,open,high,low,close,volume",
      "2025-03-03 07:00,10,11,9,10,5",
      "2025-03-03 07:01,10,9,11,10,5",
      "",
      "2025-03-03 07:02,10,11,9,10",
      "no time,10,11,9,10,5",
      "2025-03-03 07:00,10,11,9,10,5",
      "2025-03-03 07:03,1e1,11,9.5,+x,5",
      "2025-03-03 07:04,1e1,11,9.5,10,5",
    ].join("\r\n"),
  );
  test("the good ones are kept", () => {
    expect(Array.from(columns.time, (ms) => new Date(ms).toISOString().slice(11, 16))).toEqual(["07:00", "07:04"]);
    expect(columns.open[1]).toBe(10);
  });
  test("the bad ones are named", () => {
    expect([rows, rejected]).toEqual([7, 5]);
    expect(problems.map(({ line }) => line)).toEqual([3, 5, 6, 7, 8]);
    expect(problems.map(({ text }) => text).join(" | ")).toMatch(
      /low 11 is above the open 10 \| it has 5 fields; 6 are needed \| "no time" is not a date .* \| its time is the same as the previous bar's \| its close "\+x" is not a number/,
    );
  });
});

test("a file that runs backwards in time is turned round", () => {
  const lines = Array.from({ length: 20 }, (_, i) => `2025-03-03 07:${String(59 - i).padStart(2, "0")},10,11,9,10,${i}`);
  const { columns, rejected } = parse(["h", ...lines].join("\n"));
  expect(rejected).toBe(0);
  expect(columns.time[0]).toBeLessThan(columns.time[19]!);
  expect(columns.volume[0]).toBe(19);
});

test("a zone that there is not is refused before anything is read", () => {
  expect(() => parse("h\n2025-03-03,1,1,1,1,1", { zone: "Nowhere/Never" })).toThrow(/"Nowhere\/Never" is not a known time zone/);
});

test("a time at the close is moved to the open", () => {
  const { columns } = parse("h\n2025-03-03 07:15,10,11,9,10,1", { stamp: "close" }, "15m");
  expect(new Date(columns.time[0]!).toISOString()).toBe("2025-03-03T07:00:00.000Z");
});

test("parts cut anywhere give the same bars as the whole, and as the standard parser", () => {
  const bars = walk(300, 8);
  const text = `time;open;high;low;close;volume\n${Array.from({ length: 300 }, (_, i) => `"${new Date(bars.time[i]!).toISOString()}";${bars.open[i]};"${bars.high[i]}";${bars.low[i]}; ${bars.close[i]} ;${bars.volume[i]}`).join("\n")}`;
  const whole = parse(text, { delimiter: ";" });
  const standard = Papa.parse<string[]>(text, { delimiter: ";" }).data.slice(1);
  expect(whole.columns.close).toEqual(Float64Array.from(standard, (row) => Number(row[4])));
  expect(whole.columns.high).toEqual(bars.high);
  for (const size of [1, 7, 64, 1000]) {
    const reader = new CsvBarReader({ ...PLAIN, delimiter: ";" }, "1m");
    const bytes = encode(text);
    for (let at = 0; at < bytes.length; at += size) reader.feed(bytes.subarray(at, at + size));
    expect(reader.finish()).toEqual(whole);
  }
});

test("decimals come out as the nearest double", () => {
  const values = ["0.1", "1234567.89", "412.75", "0.00001", "123456789012345", "0.30000000000000004"];
  for (const value of values) expect(parse(`h\n2025-03-03,${value},${value},${value},${value},1`).columns.open[0]).toBe(Number(value));
});

describe("guesses", () => {
  test.each<[string, Partial<BarLayout>]>([
    [
      "time,open,high,low,close,volume\n2025-03-03T07:00:00Z,1,2,1,2,5",
      { headerLines: 1, time: 0, open: 1, close: 4, volume: 5, dateFormat: "iso", clock: null },
    ],
    [
      "Date,Time,O,H,L,C,Vol\n31.03.2025,07:00,1,2,1,2,5",
      { headerLines: 1, time: 0, clock: 1, open: 2, close: 5, volume: 6, dateFormat: "dmy" },
    ],
    ["20250331,1,2,1,2", { headerLines: 0, time: 0, open: 1, close: 4, volume: null, dateFormat: "compact" }],
    ["Close,Open,High,Low,Date\n2,1,2,1,03/31/2025", { time: 4, open: 1, high: 2, low: 3, close: 0, dateFormat: "mdy" }],
    ["1743405300000,1,2,1,2,9", { headerLines: 0, dateFormat: "unix-ms", volume: 5 }],
  ])("%s", (text, expected) => {
    expect(guessLayout(text, "UTC").layout).toMatchObject(expected);
  });

  test("day and month are told apart by the first number over twelve", () => {
    expect(guessDateFormat(["01.02.2025", "01.13.2025"])).toMatchObject({ format: "mdy", others: [] });
    expect(guessDateFormat(["01.02.2025", "13.01.2025"])).toMatchObject({ format: "dmy", others: [] });
  });

  test.each([
    [60_000, "1m"],
    [900_000, "15m"],
    [3_600_000, "1h"],
    [86_400_000, "1d"],
  ])("bars %i ms apart are %s", (step, timeframe) => {
    expect(guessTimeframe(Float64Array.from({ length: 50 }, (_, i) => i * step + (i > 30 ? 1e9 : 0)))).toBe(timeframe);
  });
});

describe("a column of spreads", () => {
  test.each<[string, string, number | null]>([
    ["in price", "411.5 0.25", 5],
    ["of none", "411.5 0", 5],
    ["in price, three decimals throughout", "411.500 0.250", 5],
    ["in points", "411.5 25", null],
    ["in points, three decimals throughout", "411.500 25.000", null],
    ["below zero", "411.5 -0.25", null],
    ["empty", "411.5 ", null],
    ["in price, decimal commas", "411,5 0,25", 5],
    ["in points, decimal commas", "411,5 25,0", null],
  ])("%s", (_what, cells, column) => {
    const [close, spread] = cells.split(" ");
    const lines = ["time;open;high;low;close;spread"];
    for (let minute = 10; minute < 20; minute++) lines.push(`2025-03-03T10:${minute}Z;${[close, close, close, close, spread].join(";")}`);
    expect(guessLayout(lines.join("\n"), "UTC").layout).toMatchObject({ spread: column });
  });
});

describe("the tick size of prices", () => {
  const of = (...prices: number[]) => {
    const column = Float64Array.from(prices);
    return guessTickSize({ open: column, high: column, low: column, close: column });
  };

  test.each<[string, number[], number]>([
    ["quarters", [410.25, 410.5, 411, 409.75], 0.25],
    ["halves that show no decimals at first", [1900, 1901, 1900.5], 0.5],
    ["five decimals of a currency", [1.085, 1.08512, 1.08497], 0.00001],
    ["steps of five hundredths", [12.35, 12.4, 12.55], 0.05],
    ["whole numbers", [512, 513, 517], 1],
    ["steps of five", [16_005, 16_010, 16_025], 5],
    ["written in binary", [0.1, 0.2, 0.30000000000000004], 0.1],
    ["one price throughout, which tells little", [100, 100, 100], 1],
    ["none", [], 0.01],
  ])("%s", (_name, prices, tick) => {
    expect(of(...prices)).toBe(tick);
  });

  test("puts every price of a made grid on it", () => {
    for (const tick of [0.0005, 0.01, 0.125, 0.2, 0.25, 2.5]) {
      const prices = Array.from({ length: 400 }, (_, k) => Number(((2000 + ((k * 7919) % 331)) * tick).toFixed(6)));
      expect(of(...prices)).toBeCloseTo(tick, 10);
    }
  });
});
