/** Sentences as people type them, what is said of those that can't be read, and what would fit at their end. */
import { describe, expect, test } from "vitest";
import type { PlanTesterError } from "../errors.ts";
import { fittingAt, readRules, readValue } from "./read-sentence.ts";
import type { SheetRow } from "./sheet.ts";
import { rowText, valueText } from "./words.ts";

const said = (text: string): string[] =>
  readRules(text).rows.map((row) => rowText({ kind: "row", id: "", name: "", comment: "", isOff: false, ...row } satisfies SheetRow));

describe("what is typed is read as", () => {
  test.each([
    ["RSI crosses below 30", ["the RSI (14) of close crosses below 30"]],
    ["rsi(9) of close on 1h crosses below 30", ["the RSI (9) of close on 1h crosses below 30"]],
    [
      "When the RSI (14) of close on 1 h crosses above 30, and close is above its EMA (50) on 1 d",
      ["the RSI (14) of close on 1h crosses above 30", "close is above the EMA (50) of close on 1d"],
    ],
    ["close is above highest of high", ["close is above the highest (20) of high"]],
    ["bar is up, and time is from 9:30 to 11:00", ["the bar is up", "the time is from 09:30 to 11:00"]],
    ["weekday is Friday, Monday or Tuesday", ["the weekday is Monday, Tuesday or Friday"]],
    ["close in brin on 1h is rising", ["close on 1h in BRIN is rising for 1 bar"]],
    ["close on 1h in brin is rising", ["close on 1h in BRIN is rising for 1 bar"]],
    ["close is between 1 and 2, held for 3 bars, at most 1 bar ago", ["close is between 1 and 2, held for 3 bars, at most 1 bar ago"]],
    ["close plus 2 times ATR is above open", ["close plus 2 times the ATR (14) is above open"]],
    ["larger of (close, SMA) is above 5", ["the larger of (close, the SMA (20) of close) is above 5"]],
    ["smaller of (5, low) 2 bars ago is below close", ["the smaller of (5, low) 2 bars ago is below close"]],
    [
      "number of the last 10 bars with (close is above open) is above 7",
      ["the number of the last 10 bars with (close is above open) is above 7"],
    ],
    ["keel from keel-line (close, 20) is below low", ["keel from keel-line (close, 20) is below low"]],
  ] as const)("%s", (text, rules) => {
    expect(said(text)).toEqual(rules);
  });

  test("rules joined by or are alternatives; both words in one sentence are not taken", () => {
    expect(readRules("the bar is up, or volume is above 100").of).toBe("any");
    expect(() => readRules("the bar is up, or volume is above 100, and close is above 3")).toThrow(
      /", \(character 38\) does not fit|does not fit/,
    );
  });

  test("products go ahead of sums, and brackets ahead of both", () => {
    expect(valueText(readValue("close minus open times 2"))).toBe("close minus open times 2");
    expect(valueText(readValue("(close minus open) times 2"))).toBe("(close minus open) times 2");
    expect(valueText(readValue("close minus (open minus low)"))).toBe("close minus (open minus low)");
    expect(valueText(readValue("(close minus open) 2 bars ago"))).toBe("(close minus open) 2 bars ago");
  });
});

describe("what can't be read is marked at its word, with what would fit", () => {
  test.each([
    ["the RSI (14) of close jumps over 30", 22, "crosses above"],
    ["the RZI (14) of close crosses below 30", 4, "RSI"],
    ["close is above", 14, "a number"],
    ["close is", 8, "above"],
    ["close crosses", 13, "above"],
    ["close crosses", 13, "open"],
    ["close is at or", 14, "above"],
    ["close is above the larger of (open", 34, ","],
    ["the number of the last few bars", 23, "a whole number"],
    ["close is between 1", 18, "and"],
    ["the bar is green", 11, "up"],
    ["the time is from 25:00 to 11:00", 17, "a time such as 09:30"],
    ["close on 1x is above 3", 9, "a timeframe such as 1h"],
    ["close is above 3, held for many bars", 27, "a whole number"],
    ["close is above 3 !", 17, ", and"],
    ["", 0, "the RSI"],
  ] as const)("%s", (text, at, fits) => {
    try {
      readRules(text);
      expect.unreachable();
    } catch (error) {
      const { code, details, message } = error as PlanTesterError;
      expect(code).toBe("bad-plan");
      expect(details).toMatchObject({ at, sentence: text });
      expect(details.fits).toContain(fits);
      expect(message).toContain(text.slice(at).trim() === "" ? "not complete" : `(character ${at + 1}) does not fit`);
    }
  });
});

describe("completion", () => {
  test.each([
    ["close ", ["crosses above", "is above", "is rising", "plus", "on"]],
    ["close is above the RSI (14) of ", ["close", "high", "the SMA"]],
    ["the Bollinger band ", ["upper", "lower", "middle"]],
    ["close is above 3", [", and", ", or", ", held for", ", at most"]],
    ["the weekday is ", ["Monday", "Sunday"]],
  ])("after %j", (text, words) => {
    expect(fittingAt(text).words).toEqual(expect.arrayContaining(words));
  });
});
