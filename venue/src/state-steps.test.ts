import { expect, test } from "vitest";
import { broughtUp, STATE_VERSION } from "./state-steps.ts";

const LOT = { quantity: 2, stopPrice: 411.5, targetPrice: null };
const MOVE = { at: 420, level: 415, reason: "lock" };
const stateOf = (lots: readonly object[], more: object = {}) =>
  ({ nowMs: 7, speed: 60, accounts: [{ id: "w", book: { cash: 1, lots } }], ...more }) as unknown as Parameters<typeof broughtUp>[0];

test.each([
  [
    "without a version, a move that waits goes on waiting",
    stateOf([
      { ...LOT, arms: [MOVE] },
      { ...LOT, arms: [] },
    ]),
    [[MOVE], []],
  ],
  ["of the present version, nothing is changed", stateOf([{ ...LOT, pendingMoves: [MOVE] }], { version: STATE_VERSION }), [[MOVE]]],
])("%s", (_what, stored, pending) => {
  const lots = pending.map((pendingMoves) => ({ ...LOT, pendingMoves }));
  expect(broughtUp(stored)).toEqual(stateOf(lots, { version: STATE_VERSION }));
});

test("a later version's state is not guessed at", () => {
  expect(() => broughtUp(stateOf([], { version: STATE_VERSION + 1 }))).toThrow(/later version/);
});
