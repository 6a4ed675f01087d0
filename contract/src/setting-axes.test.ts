import { EMPTY_KIT, type ExitKit, NO_EXITS } from "@plan-tester/core";
import { describe, expect, test } from "vitest";
import { PLAIN_SETTINGS, type RunSettings } from "./schemas.ts";
import { marketsOf, runOfVariant, settingSpecs } from "./setting-axes.ts";
import { VariantSpace } from "./sweep-space.ts";
import { variantsOf } from "./testing.ts";

const exits = {
  ...NO_EXITS,
  stopLoss: { unit: "points", value: 2, study: "atr(14)" },
  target: { unit: "R", value: 3 },
  trail: { distance: { unit: "percent", value: 1 }, after: { unit: "percent", value: 0.5 }, step: null },
  locks: [{ after: { unit: "ticks", value: 40 }, keep: { unit: "ticks", value: 10 } }],
  timeLimit: { bars: 20 },
} as const;
const kit: ExitKit = {
  ...EMPTY_KIT,
  long: exits,
  short: exits,
  size: { by: "risk percent", value: 1.5 },
  coolDownBars: 4,
  dailyLoss: 900,
};
const settingsWith = (own: ExitKit | null): RunSettings => ({
  ...PLAIN_SETTINGS,
  ...{ symbol: "TIDE", timeframe: "15m", from: "2025-01-06", to: "2025-03-01", kit: own },
});
const offered = { symbols: ["TIDE", "KELP"], timeframes: ["5m", "15m", "1h"] };

describe("what of a run can vary beside its inputs", () => {
  test("instrument and timeframe always, and every number that the kit has", () => {
    expect(settingSpecs(settingsWith(null), offered).map(({ name, choices }) => [name, choices])).toEqual([
      ["run.symbol", ["TIDE", "KELP"]],
      ["run.timeframe", ["5m", "15m", "1h"]],
    ]);
    const specs = settingSpecs(settingsWith(kit), offered).slice(2);
    expect(specs.map(({ name, default: value, unit, kind }) => `${name} ${value} ${unit} ${kind}`)).toEqual([
      "kit.stop 2 × atr(14) decimal",
      "kit.target 3 R decimal",
      "kit.trail 1 percent decimal",
      "kit.trailAfter 0.5 percent decimal",
      "kit.lock1After 40 ticks decimal",
      "kit.lock1Keep 10 ticks decimal",
      "kit.timeLimit 20 bars whole",
      "kit.size 1.5 risk percent decimal",
      "kit.coolDownBars 4 bars whole",
      "kit.dailyLoss 900 money decimal",
    ]);
  });

  test("sides with exits of their own have numbers of their own", () => {
    const sided = { ...kit, short: { ...exits, target: null } };
    const names = settingSpecs(settingsWith(sided), offered).map(({ name }) => name);
    expect(names).toContain("kit.long.target");
    expect(names).toContain("kit.short.stop");
    expect(names).not.toContain("kit.short.target");
    expect(names).not.toContain("kit.stop");
    const { settings } = runOfVariant({ "kit.short.stop": 5 }, settingsWith(sided));
    expect(settings.kit?.short?.stopLoss?.value).toBe(5);
    expect(settings.kit?.long?.stopLoss?.value).toBe(2);
  });

  test("a variant comes apart into inputs and settings, nothing else is touched", () => {
    const given = settingsWith(kit);
    const variant = {
      fast: 9,
      "run.symbol": "KELP",
      "run.timeframe": "1h",
      "kit.stop": 4,
      "kit.lock1Keep": 15,
      "kit.timeLimit": 7,
      "kit.size": 2,
    };
    const { inputs, settings } = runOfVariant(variant, given);
    expect(inputs).toEqual({ fast: 9 });
    expect(settings).toMatchObject({ symbol: "KELP", timeframe: "1h", from: given.from });
    for (const side of [settings.kit!.long!, settings.kit!.short!]) {
      expect(side.stopLoss).toEqual({ unit: "points", value: 4, study: "atr(14)" });
      expect(side.locks).toEqual([{ after: { unit: "ticks", value: 40 }, keep: { unit: "ticks", value: 15 } }]);
      expect(side.timeLimit).toEqual({ bars: 7 });
      expect(side.target).toEqual(exits.target);
    }
    expect(settings.kit!.size).toEqual({ by: "risk percent", value: 2 });
    expect(given.kit).toEqual(kit);
  });

  test("instruments and timeframes are those that vary, or the run's own", () => {
    expect(marketsOf(settingsWith(null), [])).toEqual({ symbols: ["TIDE"], timeframes: ["15m"] });
    const ranges = [{ input: "run.symbol", values: ["KELP", "TIDE"] }];
    expect(marketsOf(settingsWith(null), ranges)).toEqual({ symbols: ["KELP", "TIDE"], timeframes: ["15m"] });
  });

  test("a plan's own input with a dot in its name stays its input", () => {
    expect(runOfVariant({ "my.input": 3 }, settingsWith(kit)).inputs).toEqual({ "my.input": 3 });
  });
});

describe("links between inputs", () => {
  const spec = (name: string, kind: "whole" | "decimal" | "choice", max: number | null = null) => ({
    ...{ name, kind, default: kind === "choice" ? "a" : 1, label: name, min: 0, max, step: 1, unit: "", group: "", help: "" },
    choices: kind === "choice" ? ["a", "b"] : [],
  });
  const specs = [spec("fast", "whole"), spec("slow", "whole", 60), spec("width", "decimal"), spec("mode", "choice")];
  const ranges = [{ input: "fast", from: 10, to: 30, step: 5 }];

  test("a name that does not vary follows the others, rounded to what it takes", () => {
    const variants = variantsOf(specs, {}, { ranges, constraints: ["slow = 1.55 * fast", "width = slow / 8"] });
    expect(variants).toEqual([
      { fast: 10, slow: 16, width: 2 },
      { fast: 15, slow: 23, width: 2.875 },
      { fast: 20, slow: 31, width: 3.875 },
      { fast: 25, slow: 39, width: 4.875 },
      { fast: 30, slow: 47, width: 5.875 },
    ]);
    expect(new VariantSpace(specs, {}, { ranges, constraints: ["slow = 3 * fast"] }).linked).toEqual(["slow"]);
  });

  test("a variant whose follower would leave its bounds is left out", () => {
    expect(variantsOf(specs, {}, { ranges, constraints: ["slow = 3 * fast"] }).map(({ fast }) => fast)).toEqual([10, 15, 20]);
  });

  test("between two names that vary an equals sign is a condition", () => {
    const both = [...ranges, { input: "slow", from: 10, to: 30, step: 10 }];
    expect(variantsOf(specs, {}, { ranges: both, constraints: ["slow = fast"] }).map(({ fast }) => fast)).toEqual([10, 20, 30]);
  });

  test.each([
    ["mode = fast", /mode is no number/],
    ["slow = 2 *", /ends too early/],
    ["slow = 2 * speed", /no input "speed"/],
  ])("%s is refused", (text, message) => {
    expect(() => variantsOf(specs, {}, { ranges, constraints: [text] })).toThrow(message);
  });
});
