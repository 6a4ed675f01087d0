/** Programs read back in words: the examples as a whole, and what each form of the language is read as. */
import { readdirSync, readFileSync } from "node:fs";
import { PlanTesterError } from "@plan-tester/core";
import { describe, expect, test } from "vitest";
import { readProgram } from "./read-program.ts";

const folder = new URL("../../../demo/plans/", import.meta.url);
const examples = readdirSync(folder).filter((name) => name.endsWith(".plan.ts"));

const told = (source: string): string[] => readProgram(source).map(({ line, what, when }) => `${line}: ${what} when ${when}`);
const plan = (body: string): string =>
  `export default plan({ title: "x", inputs: { span: whole(20, {}), from: time("09:30") }, build({ bars, inputs, when, during, on, enter, exit, position, orders, clock, log, market }) {\n${body}\n} });`;

test("a rule written once for both sides is read on each, its words turned and its names its own", () => {
  const source = `export default plan({ title: "x", build({ bars, mirrored, when, position }) {
    mirrored((side) => {
      const level = side.highest(bars, 20).earlier(1);
      const calm = side.isAbove(rsi(bars.close, 14), side.threshold(40, 50));
      when(side.crossesAbove(bars.close, level).and(calm), () => {
        if (position.flat) side.enter({ stopLoss: ticks(40) });
      });
      when(side.crossesBelow(bars.close, side.lower(bollinger(bars.close, 20, 2))), () => side.isOpen && side.exit());
    });
  } });`;
  expect(told(source)).toEqual([
    "6: Enters long at market, stop loss 40 ticks when close crosses above the highest (20) of high 1 bar ago and the RSI (14) of close is above 40, and no position is open",
    "8: Closes longs at market when close crosses below the Bollinger band lower (20, 2) of close, and a long is open",
    "6: Enters short at market, stop loss 40 ticks when close crosses below the lowest (20) of low 1 bar ago and the RSI (14) of close is below 60, and no position is open",
    "8: Closes shorts at market when close crosses above the Bollinger band upper (20, 2) of close, and a short is open",
  ]);
});

test("the condition of an entry alone, and an entry at the close", () => {
  const source = plan(`const calm = isBelow(atr(bars, 14), 3);
    on.beforeClose(5, () => {
      if (position.flat) enter.long({ at: "close", onlyIf: calm, stopLoss: ticks(40) });
    });`);
  expect(told(source)).toEqual([
    "4: Enters long at market, at the session's close, stop loss 40 ticks when 5 minutes are left of a session, and no position is open, and the ATR (14) is below 3",
  ]);
});

test("every example is read, with its entries and exits", async () => {
  expect(examples.length).toBeGreaterThan(25);
  const all = examples.map((name) => {
    const acts = readProgram(readFileSync(new URL(name, folder), "utf8"));
    expect(
      acts.some(({ kind }) => kind === "entry"),
      name,
    ).toBe(true);
    return `${name}\n${acts.map(({ line, what, when }) => `  ${line}: ${what} when ${when}`).join("\n")}\n`;
  });
  await expect(all.join("\n")).toMatchFileSnapshot("./examples.txt");
});

describe("what a handler does is read as", () => {
  test.each<[string, readonly string[]]>([
    [
      "const fast = ema(bars.close, inputs.span);\nwhen(crossesAbove(bars.close, fast), () => {\n  if (position.flat) enter.long({ stopLoss: ticks(40), target: R(2) });\n});",
      ["4: Enters long at market, stop loss 40 ticks, target 2 R when close crosses above the EMA (20) of close, and no position is open"],
    ],
    [
      "during(isAbove(rsi(bars.at('1h').close), 70), () => exit.long({ part: 0.5 }));",
      ["2: Closes longs at market, 0.5 of what is open when the RSI (14) of close on 1h is above 70 (on every bar)"],
    ],
    [
      "on.barClose(() => {\n  if (!position.flat) return;\n  enter.short.stop(lowest(bars.low, 10).now - 1, { size: riskPercent(1), stopLoss: multiple(atr(bars), 2), goodFor: 'session' });\n});",
      [
        "4: Enters short by a stop order at the lowest (10) of low minus 1, risking 1 % of equity, stop loss 2 times the ATR (14), good for the session when a bar closes, and no position is open",
      ],
    ],
    [
      "const isOpen = () => clock.between(inputs.from, '11:00');\nwhen(becomes(isRising(bars.close, 3)), () => {\n  if (isOpen() && position.long) position.close('x');\n  else orders.cancelAll();\n});",
      [
        "4: Closes the position at market when close is rising for 3 bars begins to hold, and the time is from 09:30 to 11:00 and a long is open",
        "5: Cancels its orders when close is rising for 3 bars begins to hold, and it is not so that the time is from 09:30 to 11:00 or no long is open",
      ],
    ],
    [
      "const go = (why) => { enter.long({ tag: why }); };\non.clock('15:45', () => go('late'));",
      ["2: Enters long at market when it is 15:45"],
    ],
    [
      "on.barClose(() => { if (Math.sin(bars.close.now) > 0.5) log('up', 'alert'); });",
      ["2: Sends the alert `'up'` when a bar closes, and `Math.sin(bars.close.now)` is above 0.5"],
    ],
    [
      "const { upper } = bollinger(market('KELP').bars.close, 30);\nwhen(crosses(bars.close, upper.earlier(1)), () => position.goTo(units(-2)));",
      [
        "3: Orders what is missing to a position of −2 units when close crosses the Bollinger band upper (30, 2) of close in KELP 1 bar ago",
      ],
    ],
  ])("%s", (body, expected) => {
    expect(told(plan(body))).toEqual(expected);
  });

  test("a module, or a text without a plan, does nothing", () => {
    expect(told('//! module "a"\nexport const a = 1;')).toEqual([]);
    expect(told("const a = 1;")).toEqual([]);
  });

  test("what can't be read is refused with its line", () => {
    expect(() => readProgram("export default plan({\n  build( {")).toThrow(/Line 2/);
  });

  test("a text that would never end is cut", () => {
    const chain = Array.from({ length: 40 }, (_none, i) => `const c${i + 1} = c${i}.plus(c${i});`).join("\n");
    const calls = Array.from({ length: 9 }, (_none, i) => `function f${i}() { ${`f${i + 1}();`.repeat(60)} }`).join("\n");
    const acts = readProgram(
      plan(
        `const c0 = bars.close;\n${chain}\n${calls}\nfunction f9() { enter.long(); }\nwhen(crosses(c40, 1), () => f0());\non.barClose(() => { ${"enter.long();\n".repeat(900)} });`,
      ),
    );
    expect(acts.length).toBe(200);
    for (const deep of ["(".repeat(60_000), `on.start(() => ${"[".repeat(9_000)}${"]".repeat(9_000)});`])
      expect(() => readProgram(plan(deep))).toThrow(PlanTesterError);
  });
});
