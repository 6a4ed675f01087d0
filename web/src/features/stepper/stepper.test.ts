import type { RunEvidence, RunOrders, RunSteps } from "@plan-tester/contract";
import { STRIP, type TraceEvent } from "@plan-tester/core";
import { describe, expect, test } from "vitest";
import { conditionJump, jumpBars, jumpFrom } from "./jumps.ts";
import { type BarFacts, whyNoTrade } from "./why.ts";

const run = {
  settings: { symbol: "KELP" },
  trades: [
    { symbol: "KELP", entryBar: 3, exitBar: 9, reason: "stop" },
    { symbol: "BRIN", entryBar: 4, exitBar: 5, reason: "stop" },
    { symbol: "KELP", entryBar: 12, exitBar: 30, reason: "target" },
  ],
  log: [{ barIndex: -1 }, { barIndex: 7 }, { barIndex: 7 }],
} as unknown as RunEvidence;
const orders = {
  orders: [{ submittedBar: 11 }, { submittedBar: 2 }],
  fills: [{ barIndex: 3 }, { barIndex: 3 }, { barIndex: 12 }],
} as unknown as RunOrders;
const strip = { label: "up", values: Uint8Array.of(0, 1, 1, 2, 2, 1) };

describe("jumps", () => {
  test.each([
    ["order", [2, 11]],
    ["fill", [3, 12]],
    ["trade", [3, 9, 12, 30]],
    ["stop-out", [9]],
    ["log line", [0, 7]],
    [conditionJump("up"), [1, 3, 5]],
    [conditionJump("gone"), []],
  ])("%s goes to bars %o", (jump, bars) => {
    expect(Array.from(jumpBars(jump, run, orders, [strip])!)).toEqual(bars);
  });

  test("on and back from where one stands, and no further than there is", () => {
    const bars = Int32Array.of(3, 9, 12);
    expect([jumpFrom(bars, 3, 1, 50), jumpFrom(bars, 12, 1, 50), jumpFrom(bars, 9, -1, 50), jumpFrom(bars, 3, -1, 50)]).toEqual([
      9,
      null,
      3,
      null,
    ]);
    expect(jumpBars("bar", run, null, [])).toBeNull();
    expect([jumpFrom(null, 49, 1, 50), jumpFrom(null, 0, -1, 50), jumpFrom(null, 7, 1, 50)]).toEqual([null, null, 8]);
  });
});

describe("why no trade here?", () => {
  const event = (change: Partial<TraceEvent>): TraceEvent => ({
    id: 0,
    barIndex: 5,
    timeMs: 0,
    kind: "test",
    place: 0,
    line: 4,
    text: "",
    value: 0,
    state: 0,
    ...change,
  });
  const facts = (events: TraceEvent[], more: Partial<BarFacts> = {}, steps: Partial<RunSteps> = {}): BarFacts => ({
    barIndex: 5,
    firstBar: 2,
    high: 420,
    low: 410,
    strips: [],
    steps: {
      ...{ from: 4, to: 6, events, columns: [], isCut: false, closeStates: [0, 0, 0] },
      states: [{ cash: 0, equity: 0, lots: [], orders: [] }],
      names: [],
      tests: [{ text: "position.flat", line: 4 }],
      ...steps,
    },
    ...more,
  });
  const texts = (given: BarFacts): string[] => whyNoTrade(given).map(({ text }) => text);

  test("before studies are full nothing else matters", () => {
    expect(texts(facts([event({})], { firstBar: 8 }))).toEqual(["Studies have no full value yet: handlers begin on bar 9."]);
  });

  test("a test that failed is named once, with its line", () => {
    expect(whyNoTrade(facts([event({}), event({ id: 1 })]))).toEqual([{ text: "position.flat was false.", line: 4 }]);
  });

  test("conditions are said with what they were; nothing that happened is said too", () => {
    const strips = [
      { label: "up", line: 2, kind: "holds" as const, values: Uint8Array.of(0, 0, 0, 0, 0, STRIP.no) },
      { label: "calm", line: 3, kind: "holds" as const, values: Uint8Array.of(0, 0, 0, 0, 0, STRIP.yes) },
    ];
    expect(texts(facts([], { strips }))).toEqual([
      "up did not hold.",
      "calm held.",
      "No handler of the plan did anything on this bar: what it waits for did not happen.",
    ]);
  });

  test("a position that was open, an order that waited, and one that was refused", () => {
    const states = [
      {
        cash: 0,
        equity: 0,
        lots: [
          {
            orderId: 1,
            symbol: "KELP",
            side: 1 as const,
            units: 2,
            entryPrice: 400,
            entryBar: 1,
            stop: null,
            stopReason: "stop",
            target: null,
            tag: "",
          },
        ],
        orders: [
          {
            id: 3,
            symbol: "KELP",
            side: 1 as const,
            kind: "stop" as const,
            intent: "enter" as const,
            price: 425,
            quantity: 1,
            tag: "",
            line: 7,
          },
        ],
      },
    ];
    const events = [
      event({ kind: "ended", place: 9, line: 6, text: "order 9, buy market 1 refused: no margin" }),
      event({ id: 1, kind: "log", place: -1, line: 0, text: "warning: enter.long() not sent: exit kit: one position at a time" }),
    ];
    expect(texts(facts(events, {}, { states }))).toEqual([
      "Refused or ended: order 9, buy market 1 refused: no margin.",
      "enter.long() not sent: exit kit: one position at a time",
      "A position was open: long 2 from 400.",
      "An order was waiting: buy stop at 425, which price did not reach.",
      "No handler of the plan did anything on this bar: what it waits for did not happen.",
    ]);
  });
});
