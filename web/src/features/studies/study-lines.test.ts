import { ALWAYS_OPEN, evaluateStudy, expressionOf, makeSeries, readValue, STUDIES, studyNamed, valueText } from "@plan-tester/core";
import { expect, test } from "vitest";
import { isFound, programLine, sheetWords } from "./study-lines.ts";

test.each([
  ["ema", "const ema1 = ema(bars.close, 20);", "the EMA (20) of close"],
  ["atr", "const atr1 = atr(bars, 14);", "the ATR (14)"],
  ["bollinger", "const { middle, upper, lower } = bollinger(bars.close, 20, 2);", "the Bollinger band middle (20, 2) of close"],
  [
    "anchoredVwap",
    "const { value, upper, lower } = anchoredVwap(bars, barsSinceOpen(bars), 2);",
    "the anchored VWAP value (2) of the bars since open",
  ],
  ["barRange", "const barRange1 = barRange(bars);", "the bar range"],
])("%s", (name, program, words) => {
  expect(programLine(studyNamed(name))).toBe(program);
  expect(sheetWords(studyNamed(name))).toBe(words);
});

test("every study's words are read back to themselves, and its text is computed", () => {
  const length = 400;
  const time = Float64Array.from({ length }, (_none, i) => Date.UTC(2025, 2, 3) + i * 3_600_000);
  const close = time.map((_ms, i) => 100 + 10 * Math.sin(i / 7) + (i % 5));
  const [high, low] = [close.map((x) => x + 1), close.map((x) => x - 1)];
  const bars = makeSeries({ time, open: close, high, low, close, volume: close }, "1h", ALWAYS_OPEN);
  for (const study of STUDIES) {
    const words = sheetWords(study);
    expect(valueText(readValue(words)), study.name).toBe(words);
    for (const output of study.outputs) {
      const { values } = evaluateStudy(expressionOf(study, output), bars);
      expect(values.length, study.name).toBe(length);
    }
  }
});

test.each([
  ["volatility yang", ["yangZhangVolatility"]],
  ["swing", ["swingHigh", "swingLow"]],
  ["nothing at all like it", []],
])("a search for %s finds", (search, expected) => {
  expect(STUDIES.filter((study) => isFound(study, search)).map(({ name }) => name)).toEqual(expected);
});
