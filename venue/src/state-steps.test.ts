import { expect, test } from "vitest";
import { broughtUp, STATE_VERSION } from "./state-steps.ts";

type State = Parameters<typeof broughtUp>[0];

const LOT = { quantity: 2, stopPrice: 411.5, targetPrice: null, order: { id: 3, owner: "" } };
const MOVE = { at: 420, level: 415, reason: "lock" };
const ORDER = { id: 4, owner: "" };
const old = (lot: object, more: object = {}) =>
  ({
    ...{ nowMs: 7, speed: 60, ...more },
    accounts: [
      {
        id: "w",
        instrument: { symbol: "KELP" },
        settings: { cash: 1 },
        book: { cash: 1, lots: [lot], orders: [ORDER] },
        clientIds: [[4, 9]],
        minutes: 3,
      },
    ],
  }) as unknown as State;

const present = {
  ...{ nowMs: 7, legs: null, jumps: [], speed: 60, version: STATE_VERSION },
  accounts: [
    {
      ...{ id: "w", instruments: [{ symbol: "KELP" }], settings: { cash: 1 }, timeframe: "1m", reports: [] },
      snapshot: {
        books: [
          {
            cash: 1,
            lots: [{ ...LOT, pendingMoves: [MOVE], order: { id: 3, owner: "w" } }],
            orders: [{ id: 4, owner: "w" }],
            place: null,
          },
        ],
        ...{ draws: 0, dates: [null], marks: [Number.NaN], minutes: [], last: [], asked: [] },
        owners: [{ name: "w", commandsDone: 0, lastOrderId: 9, lastOwnId: 0, reports: 0 }],
        numbers: [[4, { owner: "w", id: 9 }]],
      },
    },
  ],
};

test.each<[string, State]>([
  ["of the first form: a move that waits goes on waiting, what is open has an owner", old({ ...LOT, arms: [MOVE] })],
  ["of version 2: the account's orders are those of the one it is named after", old({ ...LOT, pendingMoves: [MOVE] }, { version: 2 })],
  ["of the present version: nothing is changed", present as unknown as State],
])("%s", (_what, stored) => {
  expect(broughtUp(stored)).toEqual(present);
});

test("a later version's state is not guessed at", () => {
  expect(() => broughtUp({ ...present, version: STATE_VERSION + 1 } as unknown as State)).toThrow(/later version/);
});
