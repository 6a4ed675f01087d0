/** Orders that the venue refused, and when they are sent again. */
import { expect, test } from "vitest";
import type { Order } from "../engine/orders.ts";
import { Retries } from "./retries.ts";

const order = (id: number, intent: Order["intent"] = "enter"): Order => ({ id, intent, state: "refused" }) as Order;

test("an entry is sent again so many times, each with a number of its own, and is over where it is taken", () => {
  const retries = new Retries({ entries: 2, exits: 0 });
  expect(retries.refused(0, order(1))).toBe(false);
  const [first] = retries.take(0);
  expect(first).toMatchObject({ feed: 0, attempt: 1, most: 2 });
  expect(retries.take(0)).toEqual([]);
  retries.sent(first!, order(5));
  expect(retries.refused(0, order(5))).toBe(false);
  const [second] = retries.take(0);
  expect(second!.attempt).toBe(2);
  retries.sent(second!, order(6));
  // The last of its tries.
  expect(retries.refused(0, order(6))).toBe(true);
  expect(retries.take(0)).toEqual([]);
  // Taken, and refused later under the same number: it counts anew.
  retries.refused(0, order(7));
  retries.sent(retries.take(0)[0]!, order(8));
  retries.told({ kind: "ended", symbol: "KELP", order: { ...order(8), state: "cancelled" } });
  expect(retries.refused(0, order(8))).toBe(false);
  expect(retries.take(0)[0]!.attempt).toBe(1);
});

test("each instrument takes its own, exits have a limit of their own, and without one nothing is sent again", () => {
  const retries = new Retries({ entries: 0, exits: Number.POSITIVE_INFINITY });
  expect(retries.refused(0, order(1))).toBe(false);
  retries.refused(1, order(2, "exit"));
  expect(retries.take(0)).toEqual([]);
  expect(retries.take(1).map((one) => one.order.id)).toEqual([2]);
});
