/** Orders that the venue, and not the plan's side, refuses: the plan hears of them, and the failure policy may send them again. */
import { expect, test } from "vitest";
import { resolveSettings } from "../engine/settings.ts";
import { barsOf, INSTRUMENT, type Ohlc } from "../testing/bars.ts";
import { type Venue, watched } from "../testing/live.ts";
import { declare, words } from "../testing/run.ts";

const MINUTES = 12;
const flat: Ohlc = [100, 100, 100, 100];

interface Given {
  /** How many entries and exits are refused, from the first. */
  readonly entries?: number;
  readonly exits?: number;
  readonly retries: NonNullable<Venue["retries"]>;
  readonly order?: object;
}

/** A plan that enters once, leaves once, and notes what it hears. */
function did({ entries = 0, exits = 0, retries, order = {} }: Given) {
  const left = { entries, exits };
  const plan = () =>
    // biome-ignore lint/suspicious/noExplicitAny: a plan's context is typed by language.d.ts, which plans alone see
    declare(({ on, enter, position, log }: any) => {
      let hasEntered = false;
      let hasLeft = false;
      on.refused(({ id, reason }: { id: number; reason: string }) => log(`heard ${id}: ${reason}`));
      on.barClose(() => {
        if (!hasEntered) enter.long({ size: words.units(1), ...order });
        hasEntered = true;
        if (position.long && !hasLeft) position.close("out");
        hasLeft ||= position.long;
      });
    });
  const minutes = barsOf(Array.from({ length: MINUTES }, () => flat));
  const { fills, log } = watched(
    {
      plan,
      inputs: {},
      feeds: [{ instrument: INSTRUMENT, minutes }],
      timeframe: "1m",
      settings: resolveSettings({ path: "finer" }),
      fromMs: minutes.time[1]!,
    },
    structuredClone,
    {
      hindrance: {
        refusal: ({ intent }) => (left[intent === "exit" ? "exits" : "entries"]-- > 0 ? "not today" : ""),
        cuts: () => false,
      },
      retries,
    },
  );
  return { fills: fills.map(({ orderId, barIndex, side }) => [orderId, barIndex, side]), log: log.map(({ text }) => text) };
}

const again = (id: number, attempt: number, most: number): string =>
  `order ${id} was refused by the venue: it is sent again (${attempt} of ${most} times)`;

test("is heard by the plan's handler, and left at that where nothing else is wanted", () => {
  const { fills, log } = did({ entries: 1, retries: { entries: 0, exits: 0 } });
  expect(fills).toEqual([]);
  expect(log).toContain("heard 1: not today");
});

test("an entry is sent again at the opens that follow, under a number of its own, until it is taken", () => {
  const { fills, log } = did({ entries: 2, retries: { entries: 3, exits: 0 } });
  // Sent at the close of bar 1; refused at its own sending, and at the open of bar 2.
  expect(fills[0]).toEqual([3, 3, 1]);
  expect(log.filter((text) => text.includes("sent again"))).toEqual([again(1, 1, 3), again(2, 2, 3)]);
  expect(log.filter((text) => text.startsWith("heard"))).toEqual(["heard 1: not today", "heard 2: not today"]);
});

test("after so many tries it is left, and that is said", () => {
  const { fills, log } = did({ entries: 9, retries: { entries: 2, exits: 0 } });
  expect(fills).toEqual([]);
  expect(log.at(-1)).toBe("order 3 was refused by the venue as well: it is not sent again");
});

test("no try outlives the order's time in force", () => {
  const { fills, log } = did({ entries: 2, retries: { entries: 9, exits: 0 }, order: { goodFor: 1 } });
  expect(fills).toEqual([]);
  expect(log.at(-1)).toBe("order 2 was refused by the venue, and its time in force is over: it is not sent again");
});

test("an exit is sent again each minute without end", () => {
  const { fills, log } = did({ exits: 4, retries: { entries: 0, exits: Number.POSITIVE_INFINITY } });
  expect(fills.map(([, , side]) => side)).toEqual([1, -1]);
  expect(log.filter((text) => text.endsWith("it is sent again"))).toHaveLength(4);
});
