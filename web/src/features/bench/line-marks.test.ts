import type { Order, Trade } from "@plan-tester/core";
import { expect, test } from "vitest";
import { lineMarks, shortCount } from "./line-marks.ts";

const order = (line: number, state: Order["state"]) => ({ line, state }) as Order;
const on = (line: number, column: number) => ({ line, column, endLine: line, endColumn: 30 });
const trade = (entryLine: number, net: number) => ({ entryLine, net }) as Trade;

test("a line has its count, and the outcome of its orders", () => {
  const marks = lineMarks(
    { statements: [on(3, 1), on(5, 1), on(5, 14), on(8, 1), on(8, 5)], counts: [1, 1200, 0, 0, 0] },
    [order(5, "filled"), order(5, "expired"), order(9, "filled"), order(0, "filled")],
    [trade(5, 300), trade(5, -100)],
  );
  // The second statement of line 5 never ran; that of line 8 within another is told by the outer one.
  expect(marks.dead).toEqual([on(5, 14), on(8, 1)]);
  expect(marks.lines).toEqual([
    { line: 3, count: 1, text: "" },
    { line: 5, count: 1200, text: "2 orders · 1 filled · 2 trades · +200" },
    { line: 8, count: 0, text: "" },
    { line: 9, count: null, text: "1 orders · 1 filled" },
  ]);
});

test("counts are told in four characters", () => {
  expect([0, 999, 1234, 45_678, 1_250_000].map(shortCount)).toEqual(["0", "999", "1.2k", "46k", "1.3M"]);
});
