import { makeSeries } from "@plan-tester/core";
import { expect, test } from "vitest";
import { regimeQuestion } from "./regime-question.ts";
import { instrumentWords, regimeWords } from "./regimes-part.tsx";

const HOUR = 3_600_000;
const OPEN = Date.UTC(2025, 2, 3);
const calendar = {
  ...{ zone: "UTC", holidays: [], earlyCloses: [], sessionsPerYear: 365 },
  weekly: [1, 2, 3, 4, 5, 6, 7].map((day) => ({ day, open: "00:00", close: "24:00" })),
};

test("days have the market's last close, trades the day on which they began, whatever instrument they were on", () => {
  const n = 72;
  const price = Float64Array.from({ length: n }, (_none, i) => 100 + i);
  const time = Float64Array.from({ length: n }, (_none, i) => OPEN + i * HOUR);
  const bars = makeSeries({ time, open: price, high: price, low: price, close: price, volume: price }, "1h", calendar as never);
  const question = regimeQuestion(
    {
      daily: { dates: ["2025-03-03", "2025-03-04", "2025-03-05"], equity: [100, 110, 99, 99] },
      trades: [
        { entryTime: OPEN, net: 1 },
        { entryTime: OPEN + 24 * HOUR, net: 2 },
        { entryTime: OPEN + 71.5 * HOUR, net: 3 },
      ],
    } as never,
    bars,
    365,
  );
  expect(Array.from(question.closes)).toEqual([123, 147, 171]);
  expect(question.trades).toEqual([
    { day: 0, net: 1 },
    { day: 1, net: 2 },
    { day: 2, net: 3 },
  ]);
  expect(Array.from(question.returns, (value) => Number(value.toFixed(9)))).toEqual([0.1, -0.1, 0]);
});

test("instruments are told apart in the same words", () => {
  const part = (symbol: string, average: number) => ({ symbol, trades: 30, net: 1, average });
  const found = { parts: [part("KELP", -0.2), part("BRIN", 0.4)], unit: "R" as const, problem: "" };
  expect(instrumentWords({ ...found, p: 0.3 })).toMatch(/^Noise: .* in 30\s% of the draws\.$/);
  expect(instrumentWords({ ...found, p: 0.002 })).toBe("More than noise (p 0.002): it did best on BRIN.");
  expect(instrumentWords({ ...found, p: null, problem: "KELP has 3 trades." })).toBe("KELP has 3 trades.");
});

test("what differs is called noise, or named, or refused", () => {
  const part = (name: string, ratio: number) => ({ name, days: 90, trades: 30, net: 1, aYear: 0.1, ratio });
  const parts = [part("calm", -0.4), part("middling", 0.2), part("wild", 2)];
  const labels = new Uint8Array(0);
  expect(regimeWords({ parts, labels, p: 0.4, problem: "" })).toMatch(/^Noise: .* in 40\s% of the shifts\.$/);
  expect(regimeWords({ parts, labels, p: 0.004, problem: "" })).toBe("More than noise (p 0.004): it did best in wild markets.");
  const losing = [part("calm", Number.NaN), part("middling", -0.2), part("wild", -2)].map((one, k) =>
    k === 0 ? { ...one, ratio: null } : one,
  );
  expect(regimeWords({ parts: losing, labels, p: 0.004, problem: "" })).toContain("best in middling markets");
  expect(regimeWords({ parts, labels, p: null, problem: "A third has 3 days." })).toBe("A third has 3 days.");
});
