import { expect, test } from "vitest";
import { INSTRUMENT } from "../testing/bars.ts";
import { pointMoneyAt } from "./rates.ts";

const FOREIGN = { ...INSTRUMENT, symbol: "FAR", currency: "ORM" };
const CROSS = { ...INSTRUMENT, symbol: "XSC/ORM" };
const ALL = [INSTRUMENT, FOREIGN, CROSS];

test.each([
  ["its own currency", INSTRUMENT, {}, 10],
  ["a fixed rate", FOREIGN, { ORM: 0.5 }, 5],
  ["a price", FOREIGN, { ORM: { symbol: "XSC/ORM", inverse: false } }, 20],
  ["a price, the other way", FOREIGN, { ORM: { symbol: "XSC/ORM", inverse: true } }, 5],
  ["a price that is not known yet", FOREIGN, { ORM: { symbol: "FAR", inverse: true } }, 10],
])("a point is worth account money by %s", (_what, instrument, conversions, money) => {
  const priceOf = (symbol: string): number | undefined => (symbol === "XSC/ORM" ? 2 : undefined);
  expect(pointMoneyAt(instrument.symbol, ALL, { currency: "", conversions }, priceOf)).toBe(money);
  expect(pointMoneyAt(instrument.symbol, ALL, { currency: "XSC", conversions }, priceOf)).toBe(money);
});
