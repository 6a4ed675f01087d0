import type { Fill, Order, Trade } from "@plan-tester/core";
import Papa from "papaparse";
import { expect, test } from "vitest";
import { columnsCsv, fillsCsv, ordersCsv, tradesCsv } from "./exports.ts";

const read = (text: string) => Papa.parse<Record<string, string>>(text.trim(), { header: true }).data;
/** An hour behind UTC in winter. */
const ZONE = "Atlantic/Azores";
const TRADE = {
  id: 1,
  symbol: "KELP",
  side: -1,
  quantity: 2,
  entryTime: Date.UTC(2025, 0, 2, 9),
  entryPrice: 410.25,
  entryTag: 'stop, "wide"',
  entryLine: 12,
  exitTime: Date.UTC(2025, 0, 2, 10),
  exitPrice: 409,
  exitTag: "",
  reason: "target",
  gross: 110,
  commission: 5,
  spread: 3,
  slippage: 2,
  financing: 0,
  net: 100,
  barsHeld: 4,
  mae: 20,
  mfe: 130,
  risk: null,
  r: null,
  pathDependent: false,
  atStake: 0,
} as unknown as Trade;

test("trades come out with every field, quoted where they must be, empty where undefined", () => {
  expect(read(tradesCsv([TRADE], ZONE))).toEqual([
    expect.objectContaining({
      side: "short",
      "entryTime (UTC)": "2025-01-02T09:00:00.000Z",
      "entryTime (Atlantic/Azores)": "2025-01-02 08:00:00",
      entryTag: 'stop, "wide"',
      net: "100",
      risk: "",
      r: "",
    }),
  ]);
  expect(Object.keys(read(tradesCsv([TRADE], ZONE))[0]!).length).toBe(27);
  expect(tradesCsv([], ZONE).trim().split("\n").length).toBe(1);
});

test("numbers are without the tails of sums", () => {
  const [row] = read(tradesCsv([{ ...TRADE, net: 14.499999999999188, mae: 0.1 + 0.2, exitPrice: 0.000012345, gross: 123456789.12 }], ZONE));
  expect(row).toMatchObject({ net: "14.5", mae: "0.3", exitPrice: "0.000012345", gross: "123456789.12" });
});

test("no tag is a formula to a spreadsheet, and a loss stays a number", () => {
  const [row] = read(tradesCsv([{ ...TRADE, entryTag: "=1+1", exitTag: "@x", net: -40 }], ZONE));
  expect(row).toMatchObject({ entryTag: "'=1+1", exitTag: "'@x", net: "-40" });
});

test("orders say what became of them; a market order has no price", () => {
  const order = {
    id: 3,
    side: 1,
    kind: "market",
    intent: "enter",
    quantity: Number.POSITIVE_INFINITY,
    price: Number.NaN,
    tag: "",
    group: "",
    line: 4,
    submittedTime: 0,
    state: "refused",
    note: "size 0",
    fillTime: Number.NaN,
    fillPrice: Number.NaN,
  };
  expect(read(ordersCsv({ orders: [order as Order] }, ZONE))).toEqual([
    expect.objectContaining({
      side: "buy",
      quantity: "",
      price: "",
      state: "refused",
      note: "size 0",
      "filled (UTC)": "",
      "filled (Atlantic/Azores)": "",
      fillPrice: "",
    }),
  ]);
});

test("fills say which exit they came from and what they cost", () => {
  const fill = {
    ...{ orderId: 3, source: "trail", side: -1, quantity: 0.05, price: 409.75, timeMs: Date.UTC(2025, 0, 2, 9), barIndex: 7 },
    ...{ commission: 1.5, spread: 0.25, slippage: 0, tag: "run, all", line: 12 },
  } as Fill;
  expect(read(fillsCsv({ fills: [fill] }, ZONE))).toEqual([
    {
      ...{
        order: "3",
        "time (UTC)": "2025-01-02T09:00:00.000Z",
        "time (Atlantic/Azores)": "2025-01-02 08:00:00",
        side: "sell",
        source: "trail",
        quantity: "0.05",
        price: "409.75",
      },
      ...{ commission: "1.5", spread: "0.25", slippage: "0", tag: "run, all", line: "12" },
    },
  ]);
});

test("columns have one row a bar; warm-up and what was not done are empty", () => {
  const text = columnsCsv(
    Float64Array.of(0, 60_000),
    {
      close: Float64Array.of(1.5, 2),
      "sma(close, 2)": Float64Array.of(Number.NaN, 1.75),
      equity: Float64Array.of(100),
    },
    "UTC",
  );
  expect(read(text)).toEqual([
    { "time (UTC)": "1970-01-01T00:00:00.000Z", close: "1.5", "sma(close, 2)": "", equity: "100" },
    { "time (UTC)": "1970-01-01T00:01:00.000Z", close: "2", "sma(close, 2)": "1.75", equity: "" },
  ]);
});
