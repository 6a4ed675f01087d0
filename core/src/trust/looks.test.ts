import { expect, test } from "vitest";
import { Random } from "../random.ts";
import { lookCost } from "./looks.ts";

test("one look costs nothing more than it says; each further one is another chance for luck", () => {
  expect(lookCost(1)).toEqual({ luckOnce: expect.closeTo(0.05, 12), level: expect.closeTo(0.05, 12) });
  expect(lookCost(2).luckOnce).toBeCloseTo(0.0975, 12);
  for (const looks of [2, 5, 40]) {
    const { level } = lookCost(looks);
    expect(1 - (1 - level) ** looks).toBeCloseTo(0.05, 12);
  }
});

test("drawn looks at nothing agree", () => {
  const random = new Random(8);
  const [looks, draws] = [7, 20_000];
  const { luckOnce, level } = lookCost(looks);
  let [once, atLevel] = [0, 0];
  for (let d = 0; d < draws; d++) {
    const least = Math.min(...Array.from({ length: looks }, () => random.next()));
    if (least <= 0.05) once++;
    if (least <= level) atLevel++;
  }
  expect(Math.abs(once / draws - luckOnce)).toBeLessThan(4 * Math.sqrt((luckOnce * (1 - luckOnce)) / draws));
  expect(Math.abs(atLevel / draws - 0.05)).toBeLessThan(4 * Math.sqrt((0.05 * 0.95) / draws));
});
