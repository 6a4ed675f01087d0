import { expect, test } from "vitest";
import { roundsOf } from "./rounds.ts";

const trade = (entryTime: number, exitTime: number) => ({ entryTime, exitTime });

test.each([
  ["no trade", [], 0],
  ["one after the other", [trade(1, 2), trade(3, 4)], 2],
  ["one as the other ends: flat between", [trade(1, 2), trade(2, 3)], 2],
  ["parts of one position", [trade(1, 5), trade(1, 9)], 1],
  ["one added while another is open", [trade(1, 5), trade(3, 9), trade(4, 6)], 1],
  ["told in the order of their exits", [trade(3, 4), trade(1, 9), trade(10, 11)], 2],
])("%s", (_name, trades, rounds) => expect(roundsOf(trades)).toBe(rounds));
