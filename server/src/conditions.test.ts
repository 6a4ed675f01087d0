/** When the conditions of a text hold is told without a run, and is what the run's strips say. */
import { sheetOf, textOfSheet, unpackColumns, withoutSheet } from "@plan-tester/contract";
import { emptySheet, STRIP } from "@plan-tester/core";
import { afterAll, beforeAll, expect, test } from "vitest";
import { SWING_SETTINGS, TestServer } from "./testing.ts";

const server = new TestServer();
beforeAll(async () => {
  await server.start();
  await server.importSwing();
});
afterAll(() => server.end());

const source = `export default plan({ title: "Conditions", inputs: { span: whole(20, { min: 2, max: 50 }) }, build({ bars, inputs, when, enter, position }) {
  const mean = sma(bars.close, inputs.span);
  const above = isAbove(bars.close, mean);
  const crossed = crossesAbove(bars.close, sma(bars.at("1h").close, 3));
  const never = isAbove(bars.close, 1e9);
  when(crossed.and(above), () => { if (position.flat && !never.now) enter.long({ stopLoss: percent(1) }); });
} });`;

test("conditions are counted, and told by parts of the period", async () => {
  const { body: plan } = await server.ask("createPlan", {}, { source });
  const { body } = await server.ask("findConditions", {}, { source, inputs: {}, settings: SWING_SETTINGS });
  const { bars, conditions } = body;
  expect(conditions.map(({ text, line }) => `${text} ${line}`)).toEqual(["above 3", "crossed 4", "never 5", "crossed.and(above) 6"]);

  const id = "conditions-run";
  await server.ask("createRun", {}, { id, planId: plan.id, source, inputs: {}, settings: SWING_SETTINGS });
  const { meta, bytes } = unpackColumns<{ strips: { text: string }[] }>(await server.bytes(`/runs/${id}/strips`));
  for (const { text, known, held, began, shares } of conditions) {
    const strip = bytes[`strip${meta.strips.findIndex((one) => one.text === text)}`]!;
    expect(strip.length).toBe(bars);
    const holds = Array.from(strip, (value) => value === STRIP.yes);
    expect([known, held, began]).toEqual([
      strip.filter((value) => value !== STRIP.unknown).length,
      holds.filter(Boolean).length,
      holds.filter((value, i) => value && !holds[i - 1]).length,
    ]);
    const part = (i: number): number => Math.floor((i * shares.length) / bars);
    for (const p of [0, 40, shares.length - 1]) {
      const inPart = holds.filter((_value, i) => part(i) === p);
      expect(shares[p]).toBeCloseTo(inPart.filter(Boolean).length / inPart.length, 12);
    }
  }
  const [above, crossed, never, both] = conditions;
  expect(both!.held).toBeLessThanOrEqual(crossed!.held);
  expect(above!.held).toBeGreaterThan(10);
  expect(crossed!.held).toBe(crossed!.began);
  expect(never!.held).toBe(0);
});

test("inputs count, and what is wrong with a text is said with its line", async () => {
  const ask = (text: string, inputs = {}) => server.ask("findConditions", {}, { source: text, inputs, settings: SWING_SETTINGS });
  const [one, two] = await Promise.all([ask(source), ask(source, { span: 40 })]);
  expect(one.body.conditions[0]?.held).not.toBe(two.body.conditions[0]?.held);
  for (const wrong of [source.replace("const never", "cnst never"), source.replace("bars.close, 1e9", "nothing, 1e9")]) {
    const { status, body } = await ask(wrong);
    expect(status).toBeGreaterThanOrEqual(400);
    expect(JSON.stringify(body)).toContain('"line":5');
  }
});

test("a program is read back in words, with its lines; one that can't be read is refused", async () => {
  const { body } = await server.ask("readProgram", {}, { source });
  expect(body.acts).toEqual([
    {
      line: 6,
      kind: "entry",
      what: "Enters long at market, stop loss 1 %",
      when: expect.stringMatching(/^close crosses above the SMA \(3\) of close on 1h and .* and no position is open and /),
    },
  ]);
  const wrong = await server.ask("readProgram", {}, { source: "export default plan({\n  build( {" });
  expect([wrong.status, JSON.stringify(wrong.body)]).toEqual([422, expect.stringContaining("Line 2")]);
});

test("a sheet that does not fit is refused where it comes in, and a sound one is renamed in both its places", async () => {
  const { body: made } = await server.ask("createPlan", {}, { source: textOfSheet(emptySheet("A sheet")) });
  const odd = `${withoutSheet(made.source)}//! sheet {"version":1,"title":3}\n`;
  for (const refused of [
    await server.ask("createPlan", {}, { source: odd }),
    await server.ask("updatePlan", { id: made.id }, { source: odd, baseRevision: made.revision }),
  ]) {
    expect(refused.status).toBe(400);
    expect(JSON.stringify(refused.body)).toContain("title must be string");
  }
  const { body: renamed } = await server.ask("updatePlan", { id: made.id }, { title: "Another name" });
  expect(renamed.title).toBe("Another name");
  expect(sheetOf(renamed.source)?.title).toBe("Another name");
  expect(renamed.source).toContain('title: "Another name"');
});
