/** Each slip has a plan that trips it and one that rightly does not. */

import { SLIP_CODES, type Slip } from "@plan-tester/core";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { PlanProcess } from "./parent/plan-process.ts";
import { findSlips } from "./slips.ts";
import { run } from "./testing.ts";

const worker = new PlanProcess();
beforeAll(() => worker.warm());
afterAll(() => worker.kill("done"));

const plan = (body: string, inputs = ""): string =>
  `export default plan({\ntitle: "Slip",\n${inputs ? `inputs: { ${inputs} },\n` : ""}build({ bars, inputs, when, during, on, enter, exit, position }) {\n${body}\n},\n});`;
const MEAN = "const mean = sma(bars.close, 20);";
const STOP = "stopLoss: ticks(20)";

interface Pair {
  readonly code: Slip["code"];
  readonly name: string;
  readonly trips: string;
  readonly line: number;
  readonly text: RegExp;
  readonly fine: string;
}

const PAIRS: readonly Pair[] = [
  {
    code: "unused input",
    name: "an input that nothing reads",
    trips: plan(`${MEAN} when(crossesAbove(bars.close, mean), () => { if (position.flat) enter.long({ ${STOP} }); });`, "span: whole(20)"),
    line: 3,
    text: /Input "span" is never read/,
    fine: plan(
      `const { span } = inputs; const mean = sma(bars.close, span); when(crossesAbove(bars.close, mean), () => { if (position.flat) enter.long({ ${STOP} }); });`,
      "span: whole(20)",
    ),
  },
  {
    code: "wrong side",
    name: "a short signal that buys",
    trips: plan(
      `${MEAN}\nconst shortSignal = crossesBelow(bars.close, mean);\nwhen(shortSignal, () => {\nif (position.flat) enter.long({ ${STOP} }); });`,
    ),
    line: 7,
    text: /enter\.long where the condition speaks of short/,
    fine: plan(
      `${MEAN}\nconst shortSignal = crossesBelow(bars.close, mean);\nwhen(shortSignal, () => {\nif (position.flat) enter.short({ ${STOP} }); });`,
    ),
  },
  {
    code: "wrong side",
    name: "a tag of the other side",
    trips: plan(
      `${MEAN} when(crossesBelow(bars.close, mean), () => {\nif (position.flat) enter.short({ ${STOP}, tag: "long entry" }); });`,
    ),
    line: 5,
    text: /the tag says "long entry"/,
    // A fade buys on a fall: the words of the tag name the move, not the side.
    fine: plan(
      `${MEAN} when(crossesBelow(bars.close, mean), () => {\nif (position.flat) enter.long({ ${STOP}, tag: "fell too far" }); });`,
    ),
  },
  {
    code: "no guard",
    name: "an entry that repeats on every bar of a state",
    trips: plan(`${MEAN} during(isAbove(bars.close, mean), () => {\nenter.long({ ${STOP} }); });`),
    line: 5,
    text: /\d+ of \d+ entries came while a position of that side was open/,
    // Adding up to four lots is a rule of the plan: it asks.
    fine: plan(`${MEAN} during(isAbove(bars.close, mean), () => {\nif (position.units < 4) enter.long({ ${STOP} }); });`),
  },
  {
    code: "dead exit",
    name: "an exit of a side that is never entered",
    trips: plan(
      `${MEAN} when(crossesAbove(bars.close, mean), () => { if (position.flat) enter.long({ ${STOP} }); });\nwhen(crossesBelow(bars.close, mean), () => exit.short());`,
    ),
    line: 5,
    text: /exit\.short can never close anything/,
    fine: plan(
      `${MEAN} when(crossesAbove(bars.close, mean), () => { if (position.flat) enter.long({ ${STOP} }); });\nwhen(crossesBelow(bars.close, mean), () => exit.long());`,
    ),
  },
  {
    code: "dead exit",
    name: "a target that price never comes near",
    trips: plan(
      `${MEAN} when(crossesAbove(bars.close, mean), () => {\nif (position.flat) enter.long({ stopLoss: ticks(8), target: percent(40) }); });`,
    ),
    line: 5,
    text: /target was never reached in \d+ trades; the nearest came \d+ % of the way/,
    fine: plan(
      `${MEAN} when(crossesAbove(bars.close, mean), () => {\nif (position.flat) enter.long({ stopLoss: ticks(8), target: ticks(16) }); });`,
    ),
  },
  {
    code: "no stop",
    name: "a position without a stop",
    trips: plan(
      `${MEAN} when(crossesAbove(bars.close, mean), () => {\nif (position.flat) enter.long(); }); when(crossesBelow(bars.close, mean), () => exit.long());`,
    ),
    line: 5,
    text: /(all )?\d+( of \d+)? trades sent by this line had no stop/,
    fine: plan(
      `${MEAN} when(crossesAbove(bars.close, mean), () => {\nif (position.flat) enter.long(); }); on.opened((lot) => position.setStop(lot.entryPrice - 5)); when(crossesBelow(bars.close, mean), () => exit.long());`,
    ),
  },
  {
    code: "copied side",
    name: "the same side in both branches of a copied block",
    trips: plan(
      `${MEAN} on.barClose(() => {\nif (!position.flat) return;\nif (bars.close.now > mean.now) { enter.long({ ${STOP}, tag: "a" }); }\nelse { enter.long({ ${STOP}, tag: "b" }); } });`,
    ),
    line: 7,
    text: /enter\.long here and, for the opposite case, in line 6/,
    fine: plan(
      `${MEAN} on.barClose(() => {\nif (!position.flat) return;\nif (bars.close.now > mean.now) { enter.long({ ${STOP}, tag: "a" }); }\nelse { enter.short({ ${STOP}, tag: "b" }); } });`,
    ),
  },
  {
    code: "copied side",
    name: "the same side on opposite crossings",
    trips: plan(
      `${MEAN}\nwhen(crossesAbove(bars.close, mean), () => { if (position.flat) enter.short({ ${STOP} }); });\nwhen(crossesBelow(bars.close, mean), () => { if (position.flat) enter.short({ ${STOP} }); });`,
    ),
    line: 6,
    text: /enter\.short here/,
    // Not a copy: the second block adds to a position on other terms.
    fine: plan(
      `${MEAN}\nwhen(crossesAbove(bars.close, mean), () => { if (position.flat) enter.short({ ${STOP} }); });\nwhen(crossesBelow(bars.close, mean), () => { if (position.short && position.units < 3) enter.short({ size: units(1), ${STOP}, tag: "add" }); });`,
    ),
  },
  {
    code: "always true",
    name: "a condition asked as if it were an answer",
    trips: plan(
      `${MEAN} const up = isAbove(bars.close, mean).and(isRising(mean));\non.barClose(() => {\nif (position.flat && up) enter.long({ ${STOP} }); });`,
    ),
    line: 6,
    text: /"up" is asked as if it were true or false/,
    fine: plan(
      `${MEAN} const up = isAbove(bars.close, mean).and(isRising(mean));\non.barClose(() => {\nif (position.flat && up.now) enter.long({ ${STOP} }); });`,
    ),
  },
  {
    code: "always true",
    name: "conditions joined by && ahead of a wait",
    trips: plan(
      `${MEAN} const up = isAbove(bars.close, mean);\nconst both = up && isRising(mean);\nduring(both, () => {\nif (position.flat) enter.long({ ${STOP} }); });`,
    ),
    line: 5,
    text: /"up" is asked as if it were true or false/,
    // A yes or no of a filter that can be turned off, and a condition that is only handed on.
    fine: plan(
      `${MEAN} const rule = inputs.isOn && isAbove(bars.close, mean);\nduring(rule || isRising(mean), () => {\nif (position.flat) enter.long({ ${STOP} }); });`,
      "isOn: yesNo(true)",
    ),
  },
  {
    code: "always true",
    name: "a condition asked on the right of && in an if",
    trips: plan(
      `${MEAN} const up = isAbove(bars.close, mean);\non.barClose(() => {\nif (position.flat && (position.units === 0 && up)) enter.long({ ${STOP} }); });`,
    ),
    line: 6,
    text: /"up" is asked as if it were true or false/,
    // The same name, as a parameter and as a number, elsewhere.
    fine: plan(
      `${MEAN} const up = isAbove(bars.close, mean);\nconst asked = (up) => !up;\non.barClose(() => {\nif (position.flat && !asked(up.now)) enter.long({ ${STOP} }); });`,
    ),
  },
];

describe.each(PAIRS.map((pair) => [pair.name, pair] as const))("%s", (_name, { code, trips, line, text, fine }) => {
  const slipsOf = async (source: string) => findSlips(source, (await run(worker, source, 3000)).result);

  test("is said, with its line", async () => {
    const found = (await slipsOf(trips)).filter((slip) => slip.code === code);
    expect(found.length).toBeGreaterThan(0);
    expect(
      found.some((slip) => slip.line === line && text.test(slip.text)),
      JSON.stringify(found),
    ).toBe(true);
  });

  test("is not said of a plan that is right", async () => {
    expect((await slipsOf(fine)).filter((slip) => slip.code === code)).toEqual([]);
  });
});

test("every kind of slip has a pair", () => {
  expect([...new Set(PAIRS.map(({ code }) => code))].sort()).toEqual([...SLIP_CODES].sort());
});

test("what can't be read has no slips of its own: the error says enough", () => {
  expect(findSlips("export default plan({ title: ,", null)).toEqual([]);
});
