/** Whole programs of sheets, their reading in words, and sheets that are refused. */
import { describe, expect, test } from "vitest";
import { NO_EXITS } from "../engine/kit.ts";
import { rowOf, sheetOf } from "../testing/sheet-rows.ts";
import { readBackText } from "./read-back.ts";
import { readValue } from "./read-sentence.ts";
import type { RuleSheet, SheetGroup } from "./sheet.ts";
import { sheetProblems } from "./sheet-problems.ts";
import { writeProgram } from "./write-program.ts";

const TWO_TIMEFRAMES = sheetOf(
  {
    longEntry: ["dip: the RSI (14) of close on 1h crosses below 30", "trend: close is above the EMA (50) of close on 1d"],
    longExit: ["the RSI (14) of close on 1h crosses above 55"],
    filters: ["the time is from 09:30 to 16:00"],
  },
  {
    title: "Oversold on two timeframes",
    description: "Buys a dip in a rising market, sells a rally in a falling one.",
    shortMirrorsLong: true,
    longExits: { ...NO_EXITS, stopLoss: { unit: "percent", value: 1 }, target: { unit: "percent", value: 2 } },
  },
);

test("a mirrored sheet's program: one input serves both sides", () => {
  expect(writeProgram(TWO_TIMEFRAMES).source).toBe(`// Buys a dip in a rising market, sells a rally in a falling one.
export default plan({
  title: "Oversold on two timeframes",
  inputs: {
    dipSpan: whole(14, { min: 1, unit: "bars", label: "RSI span", group: "Dip" }),
    dipLevel: decimal(30, { label: "Level", group: "Dip" }),
    trendSpan: whole(50, { min: 1, unit: "bars", label: "EMA span", group: "Trend" }),
    rsiSpan: whole(14, { min: 1, unit: "bars", label: "RSI span", group: "The RSI (14) of close on 1h crosses above 55" }),
    rsiLevel: decimal(55, { label: "Level", group: "The RSI (14) of close on 1h crosses above 55" }),
    hoursFrom: time("09:30", { label: "From", group: "The time is from 09:30 to 16:00" }),
    hoursTo: time("16:00", { label: "To", group: "The time is from 09:30 to 16:00" }),
    stopLoss: decimal(1, { min: 0, unit: "percent", label: "Stop loss", group: "Exits" }),
    target: decimal(2, { min: 0, unit: "percent", label: "Target", group: "Exits" }),
  },
  build({ bars, inputs, when, enter, position, orders, exit }) {
    const bars1h = bars.at("1h");
    const bars1d = bars.at("1d");

    // Filters of every entry
    // the time is from 09:30 to 16:00
    const hours = opensBetween(bars, inputs.hoursFrom, inputs.hoursTo);

    // Size and exits of every entry
    const exits = {
      stopLoss: percent(inputs.stopLoss),
      target: percent(inputs.target),
    };

    // Long entry
    // dip: the RSI (14) of close on 1h crosses below 30
    const dip = crossesBelow(rsi(bars1h.close, inputs.dipSpan), inputs.dipLevel);
    // trend: close is above the EMA (50) of close on 1d
    const trend = isAbove(bars.close, ema(bars1d.close, inputs.trendSpan));
    const longEntry = dip.and(trend);
    when(longEntry.and(hours), () => {
      if (!position.flat || orders.working.length > 0) return;
      enter.long({ ...exits, tag: "long" });
    });

    // Long exit
    // the RSI (14) of close on 1h crosses above 55
    const rsiCrossesAbove = crossesAbove(rsi(bars1h.close, inputs.rsiSpan), inputs.rsiLevel);
    when(rsiCrossesAbove, () => exit.long({ tag: "rule" }));

    // Short entry
    // dip: the RSI (14) of close on 1h crosses above 70
    const dipShort = crossesAbove(rsi(bars1h.close, inputs.dipSpan), 100 - inputs.dipLevel);
    // trend: close is below the EMA (50) of close on 1d
    const trendShort = isBelow(bars.close, ema(bars1d.close, inputs.trendSpan));
    const shortEntry = dipShort.and(trendShort);
    when(shortEntry.and(hours), () => {
      if (!position.flat || orders.working.length > 0) return;
      enter.short({ ...exits, tag: "short" });
    });

    // Short exit
    // the RSI (14) of close on 1h crosses below 45
    const rsiCrossesBelow = crossesBelow(rsi(bars1h.close, inputs.rsiSpan), 100 - inputs.rsiLevel);
    when(rsiCrossesBelow, () => exit.short({ tag: "rule" }));
  },
});
`);
});

test("each line of a rule leads back to its row", () => {
  const { source, rowOfLine } = writeProgram(TWO_TIMEFRAMES);
  const lines = source.split("\n");
  const said = [...rowOfLine].map(([line, row]) => `${row}: ${lines[line - 1]!.trim()}`);
  expect(said).toContain("longEntry0: const dip = crossesBelow(rsi(bars1h.close, inputs.dipSpan), inputs.dipLevel);");
  expect(said).toContain("short longEntry0: const dipShort = crossesAbove(rsi(bars1h.close, inputs.dipSpan), 100 - inputs.dipLevel);");
  expect(said).toContain("filters0: // the time is from 09:30 to 16:00");
});

test("it is read back in words, with what is not said", () => {
  expect(readBackText(TWO_TIMEFRAMES)).toBe(
    [
      "Long: Enters long when the RSI (14) of close on 1h crosses below 30, and close is above the EMA (50) of close on 1d. It is closed when the RSI (14) of close on 1h crosses above 55. The stop loss is 1 % away. The target is 2 % away.",
      "Short: Enters short when the RSI (14) of close on 1h crosses above 70, and close is below the EMA (50) of close on 1d. It is closed when the RSI (14) of close on 1h crosses below 45. The stop loss is 1 % away. The target is 2 % away.",
      "Filters: Entries of both sides only while the time is from 09:30 to 16:00.",
      "Orders: The size is 1 unit. Entries are at market, at the next bar's open. Rules that hold for a while act on the bar on which they begin to hold. Nothing is entered while a position is open.",
    ].join("\n"),
  );
  const bare = sheetOf(
    { longEntry: ["close is above open"], shortEntry: ["close is below open"] },
    { guards: { whileOpen: "reverse", entriesPerSession: null, coolDownBars: null } },
  );
  expect(readBackText(bare)).toContain("No stop loss: a position is held until the opposite entry.");
  expect(readBackText(sheetOf({ longEntry: ["close is above open"] }))).toContain("Short: No short entries.");
});

/** Lines of the program that a change of the sheet brings about. */
const programOf = (more: Partial<RuleSheet>): string =>
  writeProgram({ ...sheetOf({ longEntry: ["close is above the SMA (20) of close"] }), ...more }).source;

describe("what a sheet says, its program does", () => {
  test.each<[string, Partial<RuleSheet>, readonly string[]]>([
    ["states that begin", {}, ["when(becomes(closeIsAbove), () => {"]],
    ["states on every bar", { entersOn: "every bar" }, ["during(closeIsAbove, () => {"]],
    [
      "adding",
      { guards: { whileOpen: "add", entriesPerSession: null, coolDownBars: null } },
      ['() => {\n      enter.long({ tag: "long" });'],
    ],
    [
      "close and reverse",
      { guards: { whileOpen: "reverse", entriesPerSession: null, coolDownBars: null } },
      ["if (position.long) return;", 'enter.long({ reverse: true, tag: "long" });'],
    ],
    [
      "guards",
      { guards: { whileOpen: "wait", entriesPerSession: 2, coolDownBars: 5 } },
      ["on.opened(() => { entries++; });", "if (coolDown > 0) return;", "entriesPerSession: whole(2,", "coolDown: whole(5,"],
    ],
    [
      "a stop order beyond a level",
      { order: { kind: "stop", level: readValue("highest (20) of high"), offsetTicks: 2, goodForBars: 5, cancelsOther: true } },
      [
        "const longLevel = highest(bars.high, inputs.orderSpan);",
        "longOrder?.cancel();",
        'longOrder = enter.long.stop(longLevel.now + inputs.orderOffset * bars.instrument.tickSize, { group: "entry", goodFor: inputs.goodFor, tag: "long" });',
      ],
    ],
    [
      "a limit order below a level, for the session",
      { order: { kind: "limit", level: readValue("close"), offsetTicks: 4, goodForBars: 0, cancelsOther: false } },
      ['enter.long.limit(longLevel.now - inputs.orderOffset * bars.instrument.tickSize, { goodFor: "session", tag: "long" });'],
    ],
    [
      "an order by the price given",
      {
        order: { kind: "price given", level: readValue("the previous session high"), offsetTicks: 0, goodForBars: 0, cancelsOther: false },
      },
      ['enter.long.at(longLevel.now, { goodFor: "session", tag: "long" });'],
    ],
    [
      "exits of every kind",
      {
        longExits: {
          stopLoss: { unit: "ticks", value: 40 },
          target: { unit: "R", value: 2 },
          trail: {
            distance: { unit: "points", value: 3, study: "atr(14)" },
            after: { unit: "R", value: 1 },
            step: { unit: "pips", value: 2 },
          },
          breakEven: { after: { unit: "money", value: 100 }, keep: { unit: "points", value: -1 } },
          locks: [{ after: { unit: "R", value: 2 }, keep: { unit: "R", value: 1 } }],
          timeLimit: { minutes: 90 },
          flat: { minutes: 15, of: "session" },
        },
      },
      [
        "stopLoss: ticks(inputs.stopLoss),",
        "target: R(inputs.target),",
        "trail: { distance: multiple(atrDistance, inputs.trail), after: R(inputs.trailAfter), step: pips(inputs.trailStep) },",
        "breakEven: { after: money(inputs.breakEven), keep: points(inputs.breakEvenKeep) },",
        "locks: [{ after: R(inputs.lock1), keep: R(inputs.lock1Keep) }],",
        "timeLimit: { minutes: inputs.timeLimit },",
        "on.beforeClose(inputs.flatBefore, () => {",
        "if (minutesLeft.now <= inputs.flatBefore) return;",
      ],
    ],
    ["sizes", { size: { by: "balance step", value: 1, step: 20_000 } }, ["size: unitsPerBalance(inputs.size, inputs.balanceStep),"]],
    [
      "windows",
      { longWindow: { by: "clock", from: "09:30", to: "11:00" } },
      ["if (!clock.between(inputs.longFrom, inputs.longTo)) return;", 'longFrom: time("09:30"'],
    ],
    [
      "windows by bars",
      { longWindow: { by: "bars", from: 2, to: 9 } },
      ["if (longBar.now < inputs.longFromBar || longBar.now > inputs.longToBar) return;"],
    ],
    ["alerts only", { acts: "alerts" }, ['log("A test sheet: long entry", "alert");']],
  ])("%s", (_what, more, lines) => {
    const program = programOf(more);
    for (const line of lines) expect(program).toContain(line);
  });

  test("other instruments and timeframes are named once", () => {
    const program = writeProgram(
      sheetOf({ longEntry: ["close on 1h in BRIN is above open on 1h in BRIN", "close in BRIN is above 3", "close on 1d is rising"] }),
    ).source;
    expect(program).toContain(
      'const brinBars = market(inputs.brin).bars;\n    const brinBars1h = brinBars.at("1h");\n    const bars1d = bars.at("1d");',
    );
    expect(program).toContain('brin: instrument("BRIN", { label: "BRIN" }),');
  });

  test("own modules are imported", () => {
    expect(writeProgram(sheetOf({ longEntry: ["close is above keel from keel-line (close, 20)"] })).source).toMatch(
      /^import \{ keel \} from "keel-line";\n\n/,
    );
  });

  test("groups nest; what is switched off is left out", () => {
    const any: SheetGroup = {
      ...{ kind: "group", id: "g", name: "", comment: "", isOff: false, of: "any" },
      rules: [rowOf("the bar is up", "a"), rowOf("volume is above 9", "b"), { ...rowOf("close is above 1", "c"), isOff: true }],
    };
    const sheet = sheetOf({ longEntry: ["close crosses above open"] });
    const program = writeProgram({
      ...sheet,
      longEntry: {
        ...sheet.longEntry,
        rules: [...sheet.longEntry.rules, any, { ...any, id: "n", of: "none", rules: [rowOf("low is above 5", "d")] }],
      },
    }).source;
    expect(program).toContain("const longEntry = closeCrossesAbove.and(barIsUp.or(volumeIsAbove)).and(lowIsAbove.not());");
    expect(program).toContain("when(longEntry, () => {");
    expect(program).not.toContain("inputs.closeLevel");
  });

  test("words of one's own can't break out of the program", () => {
    const row = { ...rowOf("close is above 3", "a"), name: 'x"); import("y")', comment: "first\nexit.all();\n<!-- import (z) -->" };
    const sheet = sheetOf({}, { title: 'A "title"\n', description: "import('a') -->" });
    const { source } = writeProgram({ ...sheet, longEntry: { ...sheet.longEntry, rules: [row] } });
    expect(source).not.toMatch(/import\s*\(|<!--|-->/);
    expect(source).toContain("// first exit.all(); -- import [z) --");
  });
});

describe("sheets that are refused", () => {
  const withRow = (text: string, change: (row: ReturnType<typeof rowOf>) => unknown): RuleSheet => {
    const sheet = sheetOf({});
    return { ...sheet, longEntry: { ...sheet.longEntry, rules: [change(rowOf(text, "a")) as ReturnType<typeof rowOf>] } };
  };
  const compare = withRow("close is above the SMA (20) of close", (row) => row);
  const number = { kind: "number", value: 3 } as const;
  const changed = (test: Record<string, unknown>): RuleSheet =>
    withRow("close is above the SMA (20) of close", (row) => ({ ...row, test: { ...row.test, ...test } }));

  test("the sound one has no problem", () => expect(sheetProblems(compare)).toEqual([]));

  test.each<[string, RuleSheet, RegExp]>([
    ["two numbers", changed({ left: number, right: number }), /"3 is above 3" compares two numbers/],
    ["a study that there is none of", changed({ right: { ...readValue("sma (20)"), study: "smma" } }), /no study "smma"/],
    [
      "a number out of bounds",
      changed({ right: { ...readValue("sma (20)"), numbers: [0] } }),
      /span is 0; it must be a whole number from 1/,
    ],
    [
      "an output that there is none of",
      changed({ right: { ...readValue("Bollinger band upper"), output: "top" } }),
      /has no "top"; it has middle/,
    ],
    ["too few numbers", changed({ right: { ...readValue("sma (20)"), numbers: [] } }), /takes 1 numbers; it got 0/],
    ["a number as a source", changed({ right: { ...readValue("sma (20)"), sources: [number] } }), /3 stands where a price or a study/],
    [
      "a timeframe",
      changed({ left: { kind: "price", price: "close", on: { timeframe: "7x", instrument: "" }, ago: null } }),
      /"7x" is not a timeframe/,
    ],
    [
      "a number over a price",
      changed({ right: { kind: "math", by: "over", left: number, right: readValue("close"), ago: null } }),
      /begins with a number/,
    ],
    [
      "ids that are there twice",
      { ...compare, longExit: { ...compare.longExit, rules: compare.longEntry.rules } },
      /Two rules have the id "a"/,
    ],
    ["a size by risk without a stop", { ...compare, size: { by: "risk percent", value: 1 } }, /needs a stop loss/],
    ["flat of the week", { ...compare, longExits: { ...NO_EXITS, flat: { minutes: 5, of: "week" } } }, /flat at least 1 minute/],
    ["no weekday", changed({ kind: "weekday", days: [] }), /No weekday is chosen/],
  ])("%s", (_what, sheet, message) => {
    expect(() => writeProgram(sheet)).toThrow(message);
  });
});
