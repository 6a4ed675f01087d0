import { describe, expect, test } from "vitest";
import { overallEfficiency, windowEfficiency } from "./efficiency.ts";

/** A window of 100 sessions in-sample and 20 out-of-sample with a net in each. */
const windowOf = (inside: number | null, out: number | null, couldTrade = true) => {
  const period = (sessions: number) => ({ from: "2025-01-01", to: "2025-06-30", sessions });
  const tried = { inFigures: [inside], outFigures: [out], inSample: period(100), outOfSample: period(20) };
  return { ...tried, inputs: { span: 20 }, efficiency: couldTrade ? windowEfficiency(tried) : null };
};

describe("walk-forward efficiency", () => {
  test.each<[string, number | null, number | null, number | null]>([
    ["half a session's net is kept", 1000, 100, 0.5],
    ["nothing is kept", 1000, 0, 0],
    ["it turns to a loss", 1000, -200, -1],
    ["nothing was made in-sample", -50, 100, null],
    ["a figure is undefined", 1000, null, null],
  ])("%s", (_what, inside, out, expected) => {
    expect(windowOf(inside, out).efficiency).toBe(expected);
  });

  test("a window in which nothing could trade is none, and leaves the whole as it is", () => {
    const good = windowOf(1000, 100);
    const idle = windowOf(1000, 0, false);
    expect(idle.efficiency).toBeNull();
    expect(overallEfficiency([good, idle])).toBe(overallEfficiency([good]));
    expect(overallEfficiency([good, idle])).toBe(0.5);
    expect(overallEfficiency([idle])).toBeNull();
  });

  test("a window that chose nothing counts on neither side; a losing choice counts on both", () => {
    const none = { ...windowOf(null, null), inputs: null, inFigures: [], outFigures: [] };
    expect(overallEfficiency([windowOf(1000, 100), none])).toBe(0.5);
    // 900 in 200 sessions, then 50 in 40.
    expect(overallEfficiency([windowOf(1000, 100), windowOf(-100, -50)])).toBeCloseTo(50 / 40 / (900 / 200), 12);
    expect(overallEfficiency([])).toBeNull();
  });
});
