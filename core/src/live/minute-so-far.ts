/** A minute that is under way, as far as its price has gone. */
import { firstExtreme } from "../engine/path.ts";
import type { MinuteBar } from "../market/bar-frame.ts";

/** @param legs how many legs of its path it has gone (R4.1); 0 while it stands at its open. Its volume is known when it is over. */
export function minuteSoFar(bar: MinuteBar, legs: number): MinuteBar {
  const { open, high, low, close } = bar;
  const path = firstExtreme(open, high, low, close) === "high" ? [open, high, low, close] : [open, low, high, close];
  const gone = path.slice(0, legs + 1);
  return { ...bar, high: Math.max(...gone), low: Math.min(...gone), close: gone.at(-1)!, volume: 0 };
}
