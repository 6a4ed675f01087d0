import type { Fill, Order } from "@plan-tester/core";
import { describe, expect, test, vi } from "vitest";
import { queries } from "../../data/queries.ts";
import { control, press, show, tall, type, withAnswers } from "../../testing.tsx";
import { OrdersTable } from "./orders-table.tsx";

const order = (id: number, more: Partial<Order> = {}): Order =>
  ({
    ...{ id, side: 1, kind: "stop", intent: "enter", price: 400 + (id % 50), quantity: 1, state: "filled", note: "", tag: "break" },
    ...{ submittedTime: id * 60_000, fillPrice: 401, line: 29 },
    ...more,
  }) as Order;
const fill = (orderId: number, more: Partial<Fill> = {}): Fill =>
  ({
    ...{ orderId, source: "order", side: 1, quantity: 0.05, price: 401.25, timeMs: orderId * 60_000, barIndex: 3 },
    ...{ commission: 1.5, spread: 0.25, slippage: 0, tag: "break", line: 29 },
    ...more,
  }) as Fill;

let runs = 0;

async function table(orders: readonly Order[], fills: readonly Fill[], stretch: Parameters<typeof OrdersTable>[0]["stretch"] = null) {
  tall();
  const runId = `run ${runs++}`;
  const onLine = vi.fn<(line: number) => void>();
  const host = await show(
    withAnswers(
      [[queries.runOrders(runId).queryKey, { orders, fills }]],
      <OrdersTable runId={runId} title="Brine channel" zone="UTC" exchange="UTC" decimals={2} {...{ stretch, onLine }} />,
    ),
  );
  const grid = () => host.querySelector<HTMLElement>("[role=grid]")!;
  const rows = () => [...grid().querySelectorAll<HTMLElement>("[role=row]")].slice(1);
  return { host, grid, rows, onLine, texts: (k: number) => [...rows()[k]!.children].map(({ textContent }) => textContent) };
}

describe("orders and fills", () => {
  test("say what was ordered and what became of it; a market order has no price, an exit of all no size", async () => {
    const { texts } = await table(
      [
        order(1, { kind: "market", price: Number.NaN, intent: "exit", side: -1, quantity: null as unknown as number }),
        order(2, { state: "cancelled", fillPrice: Number.NaN, note: "order 1 of its group filled first" }),
        order(3, { state: "cancelled", fillPrice: Number.NaN, note: "cancelled by the plan" }),
      ],
      [],
    );
    expect(texts(0).slice(2, 7)).toEqual(["sell market to exit", "market", "all", "filled ", "401.00"]);
    expect(texts(1).slice(2)).toEqual([
      ...["buy stop to enter", "402.00", "1", "cancelled order 1 of its group filled first", "–", "break", "29"],
    ]);
    expect(texts(2)[5]).toBe("cancelled by the plan");
  });

  test("all of many are there, in any order, though only those in sight are drawn", async () => {
    const many = Array.from({ length: 30_000 }, (_, k) => order(k + 1));
    const { host, grid, rows, texts } = await table(many, []);
    expect(grid().getAttribute("aria-rowcount")).toBe("30000");
    expect(rows().length).toBeLessThan(100);
    await press(host, "#");
    expect(texts(0)[0]).toBe("30000");
  });

  test("fills are the other list, numbered by their place in the run, also in a stretch of it", async () => {
    const fills = [fill(1), fill(2, { source: "trail", side: -1 }), fill(3)];
    const stretch = { label: "a stretch", fromMs: 100_000, toMs: 130_000 } as NonNullable<Parameters<typeof OrdersTable>[0]["stretch"]>;
    const { host, rows, texts } = await table([order(1), order(2)], fills, stretch);
    expect(control(host, "What is listed").textContent).toBe("1 order1 fill");
    await type(control(host, "What is listed"), "fills");
    expect(rows().length).toBe(1);
    expect(texts(0)).toEqual(["2", "2", "1 Jan 1970, 00:02", "sold by trail", "0.05", "401.25", "1.50", "0.25", "0.00", "break", "29"]);
    expect(host.textContent).toContain("Save fills");
  });

  test("a line leads to the source", async () => {
    const { host, onLine } = await table([order(1)], []);
    await press(host, "Show line 29");
    expect(onLine).toHaveBeenCalledExactlyOnceWith(29);
  });

  test("a plan that sent none says so", async () => {
    expect((await table([], [])).host.textContent).toContain("The plan sent none.");
  });
});
