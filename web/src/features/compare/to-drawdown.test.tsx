/** Several runs to a common drawdown: sizes that can be traded, how far each is off, and which are exact. */
import { PLAIN_SETTINGS, type RunEvidence } from "@plan-tester/contract";
import { type Instrument, NO_COSTS } from "@plan-tester/core";
import { MemoryRouter } from "react-router";
import { expect, test, vi } from "vitest";
import { queries } from "../../data/queries.ts";
import { control, press, show, type, withAnswers } from "../../testing.tsx";
import { ToDrawdown } from "./to-drawdown.tsx";

const instrument = (symbol: string, minQuantity: number) =>
  ({ symbol, currency: "XSC", minQuantity, quantityStep: minQuantity, pointValue: 10, costs: NO_COSTS }) as Instrument;
const MARKETS = [{ instrument: instrument("KELP", 1) }, { instrument: instrument("PUFN", 100) }];

function runOf(id: string, symbol: string, part: Partial<RunEvidence> = {}): RunEvidence {
  return {
    ...{ id, planId: `plan-${id}`, title: `Plan ${id}`, kept: { name: id, note: "", tags: [] }, source: "enter.long()", inputs: {} },
    trades: [{ orderId: 1, quantity: 2, symbol: "" }],
    figures: { netProfit: 500, maxDrawdown: 3000 },
    settings: { ...PLAIN_SETTINGS, symbol, timeframe: "15m", from: "", to: "", cash: 100_000 },
    ...part,
  } as unknown as RunEvidence;
}

test("each run at the size at which it falls by as much, rounded down; what is not in proportion is to be run", async () => {
  const sent: unknown[] = [];
  vi.stubGlobal(
    "fetch",
    vi.fn(async (_address: string, { body }: RequestInit = {}) => {
      if (body) sent.push(JSON.parse(String(body)));
      return new Response(JSON.stringify({ batch: "b1" }));
    }),
  );
  const runs = [
    runOf("exact", "KELP"),
    runOf("reads", "KELP", { source: "if (account.equity > 1) enter.long()" }),
    runOf("large", "PUFN", {
      trades: [{ orderId: 1, quantity: 100, symbol: "" }] as never,
      figures: { netProfit: 1, maxDrawdown: 30_000 } as never,
    }),
    runOf("several", "KELP", {
      trades: [
        { orderId: 1, quantity: 1 },
        { orderId: 2, quantity: 2 },
      ] as never,
    }),
    runOf("never", "KELP", { figures: { netProfit: 5, maxDrawdown: 0 } as never }),
  ];
  const page = withAnswers(
    [[queries.markets().queryKey, MARKETS]],
    <MemoryRouter>
      <ToDrawdown runs={runs} />
    </MemoryRouter>,
  );
  const host = await show(page);
  await press(host, "To a common drawdown");
  const row = (k: number): string[] =>
    [...host.querySelectorAll("tbody tr")[k]!.children].map((cell) => cell.textContent!.replace(/\u00a0/g, " "));
  // 20 % of 100,000: 2 units fell by 3,000, so 13 fall by 19,500.
  expect(row(0).slice(1)).toEqual(["2", "3,000 3.0 %", "13", "19,500 19.5 %", "−2.5 %", "+3,250", "exact"]);
  expect(row(1).at(-1)).toBe("to be run: its program reads money or equity, so it may act otherwise");
  expect(row(2)[3]).toBe("too small");
  expect(row(3).slice(3)).toEqual(["no one size to scale", "to be run: its entries were of several sizes"]);
  expect(row(4)[3]).toBe("it never fell");
  await type(control(host, "Common drawdown, % of the account"), "6");
  expect(row(0)[3]).toBe("4");
  await press(host, "Run 2 at these sizes and compare");
  expect(sent).toMatchObject([
    { name: "To a drawdown of 6 %", runs: [{ label: "Plan exact, 4 units", settings: { kit: { size: { by: "units", value: 4 } } } }, {}] },
  ]);
});
