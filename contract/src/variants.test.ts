import { EMPTY_KIT } from "@plan-tester/core";
import { expect, test } from "vitest";
import { PLAIN_SETTINGS, type RunSettings } from "./schemas.ts";
import { settingsOfVariant } from "./variants.ts";

const settings: RunSettings = {
  ...PLAIN_SETTINGS,
  ...{ symbol: "TIDE", timeframe: "15m", from: "2025-01-06", to: "2025-03-01", kit: null, alsoOn: ["KELP", "GANN"] },
};

test("a variant without a market brings its exit kit and leaves the rest as it is", () => {
  expect(settingsOfVariant(settings, { kit: EMPTY_KIT, market: null })).toEqual({ ...settings, kit: EMPTY_KIT });
});

test("one with a market brings that too, and no instrument stands in a run twice", () => {
  const moved = settingsOfVariant(settings, { kit: null, market: { symbol: "KELP", timeframe: "1h" } });
  expect(moved).toEqual({ ...settings, symbol: "KELP", timeframe: "1h", alsoOn: ["GANN"] });
  expect(settings.alsoOn).toEqual(["KELP", "GANN"]);
});
