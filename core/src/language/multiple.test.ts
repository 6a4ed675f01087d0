/** Distances that a study gives: as it stands when the order is sent (R3.6), however late it fills and wherever it was written. */
import { expect, test } from "vitest";
import { barsOf } from "../testing/bars.ts";
import { runBuild, words } from "../testing/run.ts";

const { multiple, units } = words;
/** Ranges of 1, 2, 3 … about 100: what a bar's range is when an order is sent is never what it is later. */
const widening = barsOf(Array.from({ length: 40 }, (_none, i) => [100, 100 + (i + 1) / 2, 100 - (i + 1) / 2, 100] as const));

test.each([
  ["at market", 4],
  ["by a stop order that waits five bars", 4],
])("%s the stop loss is that of the bar on which it was sent", (how, sent) => {
  let n = -1;
  const { trades } = runBuild(widening, ({ bars, on, enter }) => {
    // Written once, in build().
    const distance = multiple(words.barRange(bars), 2);
    on.barClose(() => {
      if (++n !== sent) return;
      const options = { stopLoss: distance, size: units(1) };
      if (how === "at market") enter.long(options);
      else enter.long.stop(105, options);
    });
  });
  expect(trades.map(({ entryPrice, exitPrice, reason }) => [entryPrice - exitPrice, reason])).toEqual([[2 * (sent + 1), "stop"]]);
});
