import { lowerBound } from "@plan-tester/core";
import { expect, test } from "vitest";
import { type BarsRead, FIRST_BARS, MAX_BARS, readNext } from "./chart-window.ts";

/** Bars of a minute with nights between them. */
const ALL = Float64Array.from({ length: 300_000 }, (_none, i) => (i + 500 * Math.floor(i / 900)) * 60_000);

/** What a server has of it. */
function there({ bars, until }: BarsRead) {
  const end = until > 0 ? lowerBound(ALL, until + 1) : ALL.length;
  const time = ALL.subarray(Math.max(0, end - bars), end);
  return { time, isLast: end === ALL.length, hasMore: time.length >= bars };
}

/** Looks at so many bars that end with a time, and reads until that is enough. */
function looked(before: BarsRead, endMs: number, span: number): BarsRead {
  let read = before;
  for (let reads = 0; reads < 20; reads++) {
    const bars = there(read);
    const to = lowerBound(bars.time, endMs);
    const next = readNext(read, bars, { from: to - span, to }, endMs === ALL.at(-1));
    if (next.bars === read.bars && next.until === read.until) return read;
    read = next;
  }
  throw new Error("it reads without end");
}

test.each([110, 5000])("a walk of %i bars at once back to the start and on to the end has them all in sight", (span) => {
  let read: BarsRead = { bars: FIRST_BARS, until: 0 };
  const stride = Math.floor(span * 0.8);
  const seen = (end: number): void => {
    read = looked(read, ALL[end]!, span);
    const { time } = there(read);
    expect(time[0]).toBeLessThanOrEqual(ALL[Math.max(0, end - span)]!);
    expect(time.at(-1)).toBeGreaterThanOrEqual(ALL[end]!);
    expect(time.length).toBeLessThanOrEqual(MAX_BARS);
  };
  for (let end = ALL.length - 2; end > 0; end -= stride) seen(end);
  expect(there(read).hasMore).toBe(false);
  for (let end = span; end < ALL.length - 1; end += stride) seen(end);
  seen(ALL.length - 2);
  expect(read.until).toBe(0);
});

test("what is followed, or seen whole, stays the last", () => {
  expect(looked({ bars: FIRST_BARS, until: 0 }, ALL.at(-1)!, 110)).toEqual({ bars: FIRST_BARS, until: 0 });
  expect(looked({ bars: FIRST_BARS, until: 0 }, ALL.at(-1)!, MAX_BARS)).toEqual({ bars: MAX_BARS, until: 0 });
  expect(looked({ bars: MAX_BARS, until: 0 }, ALL.at(-2)!, MAX_BARS)).toEqual({ bars: MAX_BARS, until: 0 });
});
