/** A crossing of longer bars, joined with what holds on the run's own, still happens on one bar. */
import { expect, test } from "vitest";
import { tradedWalk } from "../testing/bars.ts";
import { backtestOf, words } from "../testing/run.ts";

const { becomes, crosses, isAbove } = words;

test("a crossing of longer bars acts once, also when it is joined with a state of shorter ones", () => {
  const bars = tradedWalk(400, 5);
  const acted = { alone: [] as number[], joined: [] as number[], begun: [] as number[] };
  const backtest = backtestOf(bars, ({ bars: own, when, clock }) => {
    const hour = own.at("1h");
    const crossed = crosses(hour.close, hour.close.earlier(4));
    const always = isAbove(own.high, 0);
    when(crossed, () => acted.alone.push(clock.timeMs));
    when(crossed.and(always), () => acted.joined.push(clock.timeMs));
    when(becomes(isAbove(hour.close, hour.close.earlier(4)).and(always)), () => acted.begun.push(clock.timeMs));
  });
  backtest.advance(bars.length);
  expect(acted.alone.length).toBeGreaterThan(20);
  expect(acted.joined).toEqual(acted.alone);
  expect(acted.begun.length).toBeLessThan(acted.alone.length);
});
