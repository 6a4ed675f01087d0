/** Mistakes that authors make, in the type checker's words and in the plan language's. */
import language from "@plan-tester/core/language.d.ts?raw";
import { expect, test } from "vitest";
import { inPlanWords } from "./mistakes.ts";

test.each([
  [
    "enter.long({ stopLoss: 40 });",
    "2322",
    "Type 'number' is not assignable to type 'Distance'.",
    "Here goes a distance, such as ticks(40); this is a number. Give it its unit: ticks(40), percent(1.5), money(500), multiple(range, 2) or price(412.5).",
  ],
  [
    "enter.long({ size: 2 });",
    "2322",
    "Type 'number' is not assignable to type 'Size'.",
    "Here goes a size, such as units(2); this is a number. Give it its unit: units(2), equityPercent(20) or riskPercent(0.5).",
  ],
  [
    "enter.long({ stoploss: ticks(4) });",
    "2561",
    "Object literal may only specify known properties, but 'stoploss' does not exist in type 'EntryOptions'. Did you mean to write 'stopLoss'?",
    'An entry has no option "stoploss". Did you mean "stopLoss"?',
  ],
  [
    "enter.long({ takeProfit: ticks(4) });",
    "2353",
    "Object literal may only specify known properties, and 'takeProfit' does not exist in type 'EntryOptions'.",
    'An entry has no option "takeProfit".',
  ],
  [
    "exit.long({ stopLoss: ticks(4) });",
    "2353",
    "Object literal may only specify known properties, and 'stopLoss' does not exist in type 'CloseOptions'.",
    'An exit has no option "stopLoss".',
  ],
  [
    "enter.long({ onlyIf: bars.close.now > 3 });",
    "2322",
    "Type 'boolean' is not assignable to type 'Condition'.",
    "Here goes a condition; this is true or false. Compare columns by words: isAbove(a, b), crossesAbove(a, b).",
  ],
  [
    "when(isAbove(bars.close, 3), () => enter.long());",
    "2741",
    "Property 'happens' is missing in type 'State' but required in type 'Crossing'.",
    "Here goes a crossing; this is a condition that holds for a while. The moment at which it begins is becomes(…); on each bar on which it holds acts during(…).",
  ],
  [
    "const twice = bars.close * 2;",
    "2362",
    "The left-hand side of an arithmetic operation must be of type 'any', 'number', 'bigint' or an enum type.",
    "A number stands on both sides of an arithmetic sign. Columns: a.plus(b), a.minus(b), a.times(b), a.over(b); their last value: a.now.",
  ],
  [
    "const x: number = ema(bars.close, 20);",
    "2322",
    "Type 'Column' is not assignable to type 'number'.",
    "Here goes a number; this is a column, such as bars.close or a study. Its value at the last bar is .now.",
  ],
  [
    "const mean = ema(bars, 20);",
    "2740",
    "Type 'Bars' is missing the following properties from type 'Column': now, forming, ago, earlier, and 5 more.",
    "Here goes a column, such as bars.close or a study; this is bars. Take one of its columns: bars.close.",
  ],
  [
    "const mean = ema(bars.close.now, 20);",
    "2345",
    "Argument of type 'number' is not assignable to parameter of type 'Column'.",
    "Here goes a column, such as bars.close or a study; this is a number. The column itself is wanted, without .now.",
  ],
  [
    "const last = bars.close[0];",
    "7053",
    "Element implicitly has an 'any' type because expression of type '0' can't be used to index type 'Column'.",
    "A column is read by .now for the last bar and by .ago(1) for the one before.",
  ],
  ["const last = bars.close.value;", "2339", "Property 'value' does not exist on type 'Column'.", 'A column has no "value".'],
  [
    "if (position.isFlat) enter.long();",
    "2551",
    "Property 'isFlat' does not exist on type 'Position'. Did you mean 'flat'?",
    'position has no "isFlat". Did you mean "flat"?',
  ],
  [
    "bars.closes.now;",
    "2551",
    "Property 'closes' does not exist on type 'Bars'. Did you mean 'close'?",
    'bars has no "closes". Did you mean "close"?',
  ],
  [
    "const mean = emaa(bars.close, 20);",
    "2552",
    "Cannot find name 'emaa'. Did you mean 'ema'?",
    'The plan language has no "emaa", and nothing here is called so. Did you mean "ema"?',
  ],
  ["clock.minutes;", "2304", "Cannot find name 'clock'.", '"clock" comes from build\'s argument: build({ clock, … }) { … }.'],
  ["position.units = 4;", "2540", "Cannot assign to 'units' because it is a read-only property.", '"units" can be read, not set.'],
  ["const n = 1; n = 2;", "2588", "Cannot assign to 'n' because it is a constant.", '"n" is a const: write let where it is to change.'],
  [
    "on.barClose(position.close());",
    "2345",
    "Argument of type 'void' is not assignable to parameter of type '() => void'.",
    "Here goes a function, such as () => { … }; this is nothing.",
  ],
  [
    "if (bars.close > 3) enter.long();",
    "2365",
    "Operator '>' cannot be applied to types 'Column' and 'number'.",
    "Columns are not joined by >. For every bar: isAbove(a, b); for the last one: a.now > b.now.",
  ],
  [
    "const up = bars.close + 1;",
    "2365",
    "Operator '+' cannot be applied to types 'Column' and 'number'.",
    "Columns are not joined by +. For every bar: a.plus(b); for the last one: a.now + b.now.",
  ],
])("%s", (_line, code, message, said) => {
  expect(inPlanWords(code, message)).toBe(said);
});

test("what is not known keeps its words; what comes after the first sentence does not hinder", () => {
  expect(inPlanWords("1005", "';' expected.")).toBe("';' expected.");
  expect(inPlanWords("2345", "Something else.")).toBe("Something else.");
  const long =
    "Argument of type 'State' is not assignable to parameter of type 'Crossing'.\n  Property 'happens' is missing in type 'State' but required in type 'Crossing'.";
  expect(inPlanWords("2345", long)).toMatch(/^Here goes a crossing; this is a condition that holds for a while\. The moment/);
});

test("every name that build() takes is known to come from there", () => {
  const context = language.slice(language.indexOf("interface Context<")).split("\n}")[0]!;
  const names = [...context.matchAll(/^ {2}(?:readonly )?(\w+)(?:<[^>]*>)?[:(]/gm)].map(([, name]) => name!);
  expect(names).toContain("enter");
  for (const name of names) expect(inPlanWords("2304", `Cannot find name '${name}'.`), name).toContain("build(");
});
