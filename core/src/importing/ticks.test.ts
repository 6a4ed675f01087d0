import { describe, expect, test } from "vitest";
import { MINUTE_MS } from "../market/timeframe.ts";
import { Random } from "../random.ts";
import { outcomeOf } from "./corpus-outcome.ts";
import { readerOf } from "./file-reader.ts";
import { guessLayout } from "./guess-layout.ts";

const encode = (text: string): Uint8Array => new TextEncoder().encode(text);
const HEAD = "time,price,size,bid,ask";

function read(lines: readonly string[], head = HEAD) {
  const text = [head, ...lines].join("\n");
  const { layout, questions } = guessLayout(text, "UTC");
  expect(questions).toEqual([]);
  const reader = readerOf(layout, "1m");
  reader.feed(encode(text));
  return reader.finish();
}

describe("ticks become bars of a minute", () => {
  test.each<[string, string, string[], number[]]>([
    [
      "trades",
      "time,price,size",
      ["2026-03-02 07:00:00.250,10,2", "2026-03-02 07:00:30,12,1", "2026-03-02 07:00:59.999,11,4"],
      [10, 12, 10, 11, 7],
    ],
    ["trades without a size are counted", "time,price", ["2026-03-02 07:00:00,10", "2026-03-02 07:00:01,9"], [10, 10, 9, 9, 2]],
    [
      "quotes stand for the price in their middle",
      "time,bid,ask",
      ["2026-03-02 07:00:00,9,11", "2026-03-02 07:00:01,10,13"],
      [10, 11.5, 10, 11.5, 2, 2.5],
    ],
    ["bids alone", "time,bid", ["2026-03-02 07:00:00,9", "2026-03-02 07:00:01,10"], [9, 10, 9, 10, 2]],
    [
      "trades with quotes: the spread is the mean of all of the minute, a trade without a quote has none",
      HEAD,
      ["2026-03-02 07:00:00,10,2,9,11", "2026-03-02 07:00:10,,,9,13", "2026-03-02 07:00:20,9,3,,", "2026-03-02 07:00:30,11,1,10,13"],
      [10, 11, 9, 11, 6, 3],
    ],
    [
      "a file that runs backwards opens with its last line",
      "time,price,size",
      ["2026-03-02 07:01:00,8,1", "2026-03-02 07:00:30,12,1", "2026-03-02 07:00:00,10,1"],
      [10, 12, 10, 12, 2],
    ],
    [
      "one that begins with its last minute closes with its first line",
      "time,price,size",
      ["2026-03-02 07:00:40,12,1", "2026-03-02 07:00:20,10,1", "2026-03-02 06:59:59,9,1"],
      [9, 9, 9, 9, 1],
    ],
    [
      "parts of a second out of order are no matter",
      "time,price",
      ["2026-03-02 07:00:01,10", "2026-03-02 07:00:00.900,9"],
      [10, 10, 9, 9, 2],
    ],
  ])("%s", (_what, head, lines, expected) => {
    const { columns, rejected } = read(lines, head);
    expect(rejected).toBe(0);
    const { open, high, low, close, volume, spread } = columns;
    expect([open, high, low, close, volume, ...(spread ? [spread] : [])].map((column) => column[0])).toEqual(expected);
  });

  test("backwards, the other minutes follow in their order", () => {
    const { columns } = read(["2026-03-02 07:00:40,12,1", "2026-03-02 07:00:20,10,1", "2026-03-02 06:59:59,9,1"], "time,price,size");
    expect([...columns.open, ...columns.close]).toEqual([9, 10, 9, 12]);
  });

  test("a minute without a quote has the spread of the one before", () => {
    const { columns } = read(["2026-03-02 07:00:00,10,1,9,11", "2026-03-02 07:01:00,10,1,,", "2026-03-02 07:02:00,10,1,9,10"]);
    expect([...columns.spread!]).toEqual([2, 2, 1]);
  });

  test("what is no tick is told by its line", () => {
    const { problems, columns } = read([
      "2026-03-02 07:00:00,10,1,9,11",
      "2026-03-02 07:00:01,x,1,9,11",
      "2026-03-02 07:00:02,-1,1,9,11",
      "2026-03-02 07:00:03,10,1,11,9",
      "2026-03-02 07:05:00,10,1,9,11",
      "2026-03-02 07:03:00,10,1,9,11",
      "2026-03-02 07:05:00,10,-1,9,11",
      "2026-03-02 07:05:00,10",
    ]);
    expect(columns.time.length).toBe(2);
    expect(problems.map(({ line, text }) => `${line}: ${text}`)).toEqual([
      '3: its price "x" is not a number with a decimal point',
      "4: the price -1 is not above 0",
      "5: the ask 9 is below the bid 11",
      "7: its minute is over",
      "8: the size -1 is negative",
      "9: it has 2 fields; 5 are needed",
    ]);
  });
});

describe("what a file of ticks leaves open", () => {
  test.each<[string, string, RegExp]>([
    ["no heads, one number", "2026-03-02 07:00:00,412.25\n2026-03-02 07:00:05,412.50", /^1 of 1m, .*last 412.5, volume 2$/],
    [
      "no heads, bid and ask",
      "2026-03-02 07:00:00,412.25,412.5\n2026-03-02 07:00:05,412.5,412.75",
      /^asks columns: .*columns 2 and 3 are\. Bid and ask \| The price and its size$/,
    ],
    [
      "no heads, price and size",
      "2026-03-02 07:00:00,412.25,3\n2026-03-02 07:00:05,412.5,1",
      /^asks columns: .* The price and its size \| Bid and ask$/,
    ],
    [
      "one price a day",
      "date,price\n2026-03-02,412.25\n2026-03-03,412.5",
      /^refused: Each line has one price, and a date without a time of day/,
    ],
    [
      "date and clock apart, decimal comma",
      "date;time;price;qty\n02.03.2026;07:00:00;412,25;3\n13.03.2026;07:00:05;412,5;1",
      /^2 of 1m, .*last 412.5, volume 4$/,
    ],
    [
      "epoch milliseconds",
      "ts,bid,ask\n1772434800123,412.25,412.5\n1772434860000,412.5,412.75",
      /^2 of 1m, 2026-03-02 07:00Z to 2026-03-02 07:01Z, last 412.625/,
    ],
    ["heads of bars and a bid", "time,open,high,low,close,bid\n2026-03-02 07:00,1,2,1,2,3\n2026-03-02 07:01,1,2,1,2,3", /^2 of 1m/],
  ])("%s", (_what, text, expected) => {
    expect(outcomeOf(encode(text))).toMatch(expected);
  });
});

/** The bars of ticks in time order, by collecting each minute. */
function slowBars(ticks: readonly { timeMs: number; price: number; size: number; spread: number }[]) {
  const minutes = new Map<number, (typeof ticks)[number][]>();
  for (const tick of ticks) {
    const minute = Math.floor(tick.timeMs / MINUTE_MS) * MINUTE_MS;
    minutes.set(minute, [...(minutes.get(minute) ?? []), tick]);
  }
  return [...minutes].map(([time, all]) => {
    const prices = all.map(({ price }) => price);
    const volume = all.reduce((sum, { size }) => sum + size, 0);
    const spread = all.reduce((sum, one) => sum + one.spread, 0) / all.length;
    return [time, prices[0]!, Math.max(...prices), Math.min(...prices), prices.at(-1)!, volume, spread];
  });
}

test("random ticks, fed in random parts, forwards and backwards, make the bars of a slow twin", () => {
  const seed = Number(process.env.SEED ?? Date.now() % 1e9);
  const random = new Random(seed);
  const whole = (below: number): number => Math.floor(random.next() * below);
  for (let round = 0; round < 60; round++) {
    let timeMs = Date.UTC(2026, 2, 2) + whole(1e8);
    const ticks = Array.from({ length: 2 + whole(300) }, () => {
      timeMs += whole(5) === 0 ? whole(400_000) : whole(5_000);
      return { timeMs, price: (1000 + whole(100)) / 4, size: whole(9), spread: (1 + whole(4)) / 4 };
    });
    const lines = ticks.map(({ timeMs: at, price, size, spread }) => `${at},${price},${size},${price},${price + spread}`);
    const isBackwards = whole(2) === 0 && new Set(ticks.map((one) => Math.floor(one.timeMs / MINUTE_MS))).size > 1;
    const text = encode([HEAD, ...(isBackwards ? lines.reverse() : lines), ""].join("\n"));
    const { layout } = guessLayout(new TextDecoder().decode(text), "UTC");
    const reader = readerOf(layout, "1m");
    for (let at = 0; at < text.length; ) {
      const end = at + 1 + whole(4_000);
      reader.feed(text.subarray(at, end));
      at = end;
    }
    const { columns, rejected } = reader.finish();
    const { time, open, high, low, close, volume, spread } = columns;
    const expected = slowBars(ticks);
    expect(rejected, `seed ${seed}`).toBe(0);
    const bars = Array.from(time, (at, i) => [at, open[i]!, high[i]!, low[i]!, close[i]!, volume[i]!]);
    expect(bars, `seed ${seed}`).toEqual(expected.map((bar) => bar.slice(0, 6)));
    for (const [i, bar] of expected.entries()) expect(spread![i]!, `seed ${seed}`).toBeCloseTo(bar[6]!, 9);
  }
});
