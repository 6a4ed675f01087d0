/** Balances for steps of size: at their boundaries, with minimums and margin, and never too large a size. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { entrySizes } from "./entry-sizes.ts";
import { drawdownOf, type SizeQuestion, sizeSteps, unitsOn } from "./size-step.ts";

const FUTURE = { minQuantity: 1, quantityStep: 1 };
const LOTS = { minQuantity: 0.1, quantityStep: 0.1 };
const asked = (part: Partial<SizeQuestion> = {}): SizeQuestion => ({
  ...{ instrument: FUTURE, base: 1, drawdown: 3700, tolerated: 20, allowance: 0, marginPerUnit: 0 },
  ...part,
});

test.each([
  ["a fall of 3,700 with one unit, of which a fifth is tolerated", asked(), 18_500, 18_500],
  ["the same from a run of two units", asked({ base: 2, drawdown: 7400 }), 18_500, 18_500],
  ["with half as much again for a worse future", asked({ allowance: 50 }), 27_750, 27_750],
  ["balances are rounded up", asked({ drawdown: 3700.02 }), 18_501, 18_501],
  ["an exact one is not", asked({ drawdown: 0.1 + 0.2, tolerated: 30 }), 1, 1],
  ["steps of a tenth", asked({ instrument: LOTS }), 1850, 1850],
  ["a minimum of several steps", asked({ instrument: { minQuantity: 0.5, quantityStep: 0.1 } }), 1850, 9250],
] as const)("%s", (_what, question, balance, minimum) => {
  expect(sizeSteps(question)).toMatchObject({ balance, minimum: { balance: minimum, by: "drawdown" } });
});

describe("units on an account", () => {
  const steps = sizeSteps(asked());

  test.each([
    [18_499, 0],
    [18_500, 1],
    [36_999, 1],
    [37_000, 2],
    [185_000, 10],
  ])("%d carries %d", (account, units) => {
    expect(unitsOn(account, steps, asked())).toBe(units);
  });

  test("margin may ask for more than the drawdown does", () => {
    const question = asked({ marginPerUnit: 25_000 });
    const tight = sizeSteps(question);
    expect(tight.minimum).toEqual({ balance: 25_000, units: 1, by: "margin" });
    expect(unitsOn(49_999, tight, question)).toBe(1);
    expect(unitsOn(50_000, tight, question)).toBe(2);
  });

  test("none is traded below the instrument's minimum", () => {
    const question = asked({ instrument: { minQuantity: 5, quantityStep: 1 } });
    expect(unitsOn(92_499, sizeSteps(question), question)).toBe(0);
    expect(unitsOn(92_500, sizeSteps(question), question)).toBe(5);
  });
});

test("a size never falls by more than is tolerated, and one step more would, or margin forbids it", () => {
  const question = fc.record({
    instrument: fc.constantFrom(FUTURE, LOTS, { minQuantity: 0.5, quantityStep: 0.25 }),
    base: fc.integer({ min: 1, max: 9 }),
    drawdown: fc.double({ min: 5, max: 1e6, noNaN: true }),
    tolerated: fc.double({ min: 1, max: 100, noNaN: true }),
    allowance: fc.constantFrom(0, 25, 100),
    marginPerUnit: fc.constantFrom(0, 10, 5000),
  });
  fc.assert(
    fc.property(question, fc.double({ min: 1, max: 1e9, noNaN: true }), (one, account) => {
      const steps = sizeSteps(one);
      const units = unitsOn(account, steps, one);
      const hair = 1 + 1e-6;
      expect(drawdownOf(units, account, one).percent).toBeLessThanOrEqual(one.tolerated * hair);
      expect(units * one.marginPerUnit).toBeLessThanOrEqual(account * hair);
      expect(units === 0 || units >= one.instrument.minQuantity).toBe(true);
      // Balances are whole money: what the next step lacks may be that.
      const next = Math.max(units + steps.step, one.instrument.minQuantity);
      const lacking = Math.ceil(next / steps.step - 1e-9) * steps.balance > account * (1 - 1e-6);
      expect(lacking || next * one.marginPerUnit > account * (1 - 1e-6)).toBe(true);
      if (account * (1 - 1e-6) > steps.minimum.balance) expect(units).toBeGreaterThan(0);
    }),
  );
});

test("parts of one entry count together", () => {
  const part = (orderId: number, quantity: number) => ({ orderId, quantity });
  expect(entrySizes([part(1, 0.1), part(1, 0.2), part(2, 0.3)])).toEqual({ least: 0.3, most: 0.3 });
  expect(entrySizes([part(1, 1), part(2, 4)])).toEqual({ least: 1, most: 4 });
  expect(entrySizes([])).toEqual({ least: 0, most: 0 });
});
