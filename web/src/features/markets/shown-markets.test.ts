import type { InstrumentList, Market } from "@plan-tester/contract";
import { expect, test } from "vitest";
import { groupsOf, offeredMarkets, shownMarkets } from "./shown-markets.ts";

const market = (symbol: string, kind: string, isArchived = false): Market =>
  ({ instrument: { symbol, name: `${symbol} itself`, class: kind, note: "of the isles" }, isArchived }) as Market;
const MARKETS = [market("KELP", "future"), market("AUKL", "share"), market("GANN", "share"), market("OLD", "share", true)];
const LISTS: InstrumentList[] = [{ id: "l1", name: "Mine", symbols: ["GANN", "OLD", "GONE"] }];
const shown = (group: string, search = "") => shownMarkets(MARKETS, LISTS, group, search).map(({ instrument }) => instrument.symbol);

test("groups are all, classes, lists, and what is archived where anything is", () => {
  expect(groupsOf(MARKETS, LISTS).map(([, words]) => words)).toEqual([
    ...["all instruments", "every future", "every share", "Mine", "archived (1)"],
  ]);
  expect(groupsOf(MARKETS.slice(0, 2), []).map(([key]) => key)).toEqual(["all", "class future", "class share"]);
});

test.each([
  ["all", "", ["KELP", "AUKL", "GANN"]],
  ["class share", "", ["AUKL", "GANN"]],
  // A list has what was put on it, archived or not; what has gone is not there.
  ["list l1", "", ["GANN", "OLD"]],
  ["archived", "", ["OLD"]],
  ["all", "share", ["AUKL", "GANN"]],
  ["all", "ISLES kelp", ["KELP"]],
  ["list l1", "kelp", []],
] as const)("%s with %j shows %o", (group, search, symbols) => {
  expect(shown(group, search)).toEqual(symbols);
});

test("what is archived is offered only where it is chosen already", () => {
  const offered = (chosen: string[]) => offeredMarkets(MARKETS, chosen).map(({ instrument }) => instrument.symbol);
  expect(offered([])).toEqual(["KELP", "AUKL", "GANN"]);
  expect(offered(["OLD"])).toContain("OLD");
});
