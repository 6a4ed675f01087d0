import type { MadeRepair, Market, RunEvidence } from "@plan-tester/contract";
import type { Finding } from "@plan-tester/core";
import { expect, test } from "vitest";
import { dataDoubts } from "./data-doubts.ts";

const HOUR = 3_600_000;
const trade = (hour: number, net: number, symbol = "KELP") => ({ symbol, entryTime: hour * HOUR, exitTime: (hour + 1) * HOUR, net });
const run = {
  settings: { symbol: "KELP", timeframe: "5m" },
  trades: [trade(10, 100), trade(20, -30), trade(30, 7), trade(10, 50, "BRIN")],
  createdMs: 1000,
} as unknown as RunEvidence;
const finding = (fromHour: number, toHour: number, kind: Finding["kind"] = "gap"): Finding => ({
  ...{ kind, fromMs: fromHour * HOUR, toMs: toHour * HOUR, bars: 1, size: 1, text: "" },
});
const told = (...given: Parameters<typeof dataDoubts> extends [unknown, ...infer Rest] ? Rest : never) => dataDoubts(run, ...given);

test.each([
  ["nothing doubtful", [], null],
  ["between trades", [finding(13, 15)], null],
  ["inside a trade", [finding(20.2, 20.4)], "1 trade touched doubtful bars of KELP"],
  ["in the bar ahead of a trade", [finding(9.95, 9.96)], "1 trade touched doubtful bars of KELP"],
  ["over two trades", [finding(10.5, 20.5)], "2 trades touched doubtful bars of KELP"],
] as const)("%s", (_what, findings, text) => {
  const [first] = told(undefined, findings, [], "UTC");
  expect(first?.text ?? null).toBe(text);
});

test("the result without them is told, and what they are about", () => {
  const [first] = told(undefined, [finding(20.2, 20.4, "spike"), finding(2, 3)], [], "UTC");
  expect(first!.advice).toContain("What is doubtful there: spike; the first");
  expect(first!.advice).toContain("the net profit is +157");
});

test("repairs in force when it was made, and facts that were changed after it", () => {
  const repair = { repair: { kind: "drop", fromMs: 0, toMs: 1 }, reason: "a wrong tick" } as const;
  const repairs: MadeRepair[] = [
    { id: 1, ...repair, createdMs: 500, undoneMs: 0 },
    { id: 2, ...repair, createdMs: 500, undoneMs: 900 },
    { id: 3, ...repair, createdMs: 1500, undoneMs: 0 },
    { id: 4, ...repair, createdMs: 500, undoneMs: 2000 },
  ];
  const market = {
    factsChanges: [
      { atMs: 900, changes: ["name"] },
      { atMs: 1100, changes: ["tick size 0.25 to 0.5"] },
    ],
  } as unknown as Market;
  const found = told(market, [], repairs, "UTC");
  expect(found.map(({ text }) => text)).toEqual(["Its bars have 2 repairs", "Facts of KELP were changed since"]);
  expect(found[0]!.advice).toContain("bars left out (a wrong tick)");
  expect(found[1]!.advice).toContain("tick size 0.25 to 0.5");
  expect(found[1]!.advice).not.toContain("name");
});
