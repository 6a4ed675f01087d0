import type { RunEvidence } from "@plan-tester/contract";
import { EMPTY_KIT, NO_EXITS, type Trade } from "@plan-tester/core";
import { describe, expect, test } from "vitest";
import { withLevels } from "../bench/with-levels.ts";
import { rankCorrelation } from "../sweeps/in-out.tsx";
import { differencesOf } from "./differences.ts";
import { closedBy } from "./exits-compared.tsx";
import { kitWords } from "./kit-words.ts";
import { headsOf } from "./names.ts";

const run = (change: { settings?: object; inputs?: object; source?: string } = {}) =>
  ({
    title: "Plan",
    source: change.source ?? "a\nb",
    dataHash: "12345678abc",
    inputs: { span: 20, ...change.inputs },
    inputSpecs: [{ name: "span", label: "Span" }],
    settings: {
      symbol: "KELP",
      timeframe: "15m",
      from: "2025-01-01",
      to: "2025-02-01",
      cash: 1000,
      alsoOn: [],
      kit: null,
      ...change.settings,
    },
  }) as unknown as RunEvidence;

test("only what differs is listed, with the value of each run", () => {
  expect(differencesOf([run(), run()])).toEqual([]);
  const rows = differencesOf([
    run(),
    run({ inputs: { span: 30 }, settings: { cash: 5000, alsoOn: ["BRIN"] } }),
    run({ source: "a\nb\nc" }),
  ]);
  expect(rows.map(({ name }) => name)).toEqual(["cash", "further instruments", "Span", "source"]);
  expect(rows[2]!.values).toEqual(["20", "30", "20"]);
  expect(rows[1]!.values).toEqual(["none", "BRIN", "none"]);
  expect(rows[3]!.values).toEqual(["text 1, 2 lines", "text 1, 2 lines", "text 2, 3 lines"]);
});

test("inputs that share a name but mean different things have a row each", () => {
  const ticks = {
    ...run({ inputs: { stop: 40 } }),
    inputSpecs: [{ name: "stop", label: "Stop", unit: "ticks" }],
  } as unknown as RunEvidence;
  const ranges = {
    ...run({ inputs: { stop: 1 } }),
    inputSpecs: [{ name: "stop", label: "Stop", unit: "average ranges" }],
  } as unknown as RunEvidence;
  expect(differencesOf([ticks, ranges])).toEqual([
    { name: "Stop, ticks", values: ["40", "none"] },
    { name: "Stop, average ranges", values: ["none", "1"] },
  ]);
});

test("trades are counted by what closed them, with their result", () => {
  const trades = [
    ["stop", -5],
    ["target", 9],
    ["stop", -4],
  ].map(([reason, net]) => ({ reason, net }) as Trade);
  expect([...closedBy(trades)]).toEqual([
    ["stop", { trades: 2, net: -9 }],
    ["target", { trades: 1, net: 9 }],
  ]);
});

describe("a kit in words", () => {
  const stop = { ...NO_EXITS, stopLoss: { unit: "ticks" as const, value: 40 } };
  test.each([
    [null, "none"],
    [{ ...EMPTY_KIT, name: "Plain" }, "Plain"],
    [{ ...EMPTY_KIT, name: "Both", long: stop, short: stop }, "Both: stop 40 ticks"],
    [{ ...EMPTY_KIT, name: "One", long: stop, onePosition: true }, "One: long stop 40 ticks; one position"],
    [
      {
        ...EMPTY_KIT,
        name: "Moves",
        long: {
          ...NO_EXITS,
          trail: { distance: { unit: "points" as const, value: 2, study: "atr(14)" }, after: null, step: null },
          timeLimit: { bars: 9 },
        },
      },
      "Moves: long trail 2 × atr(14), 9 bars",
    ],
    [
      { ...EMPTY_KIT, name: "Limits", plansExits: false, entriesPerSession: 2, filter: "atr(14) < 3" },
      "Limits: plan's own exits off; 2 entries a session; if atr(14) < 3",
    ],
  ])("%#", (kit, words) => {
    expect(kitWords(kit)).toBe(words);
  });

  test("levels that were asked go over whatever kit there was", () => {
    expect(kitWords(withLevels(null, { stopTicks: 12, targetTicks: null }))).toBe("Asked levels: stop 12 ticks");
    const both = withLevels({ ...EMPTY_KIT, name: "Mine", long: stop }, { stopTicks: null, targetTicks: 30 });
    expect(kitWords(both)).toBe("Mine: long stop 40 ticks, target 30 ticks; short target 30 ticks");
  });
});

test.each([
  [[1, 2, 3, 4], [10, 20, 30, 40], 1],
  [[1, 2, 3, 4], [4, 3, 2, 1], -1],
  [[1, 2, 2, 3], [1, 2, 2, 3], 1],
  [[1, 1, 1], [1, 2, 3], null],
  [[1, 2], [1, 2], null],
  // Spearman's rho of a worked example: 1 - 6 * 194 / (10 * 99).
  [[106, 100, 86, 101, 99, 103, 97, 113, 112, 110], [7, 27, 2, 50, 28, 29, 20, 12, 6, 17], -29 / 165],
])("rank correlation of %o and %o", (x, y, rho) => {
  const found = rankCorrelation(x, y);
  expect(found === null ? null : Math.round(found * 1e9) / 1e9).toBe(rho === null ? null : Math.round(rho * 1e9) / 1e9);
});

const named = (title: string, name: string | null) =>
  ({ title, kept: name === null ? null : { name, note: "", tags: [] } }) as unknown as Parameters<typeof headsOf>[0][number];

test.each<[string, [string, string | null][], string[]]>([
  [
    "one plan: its title says nothing",
    [
      ["Tide", "Tide, span 20"],
      ["Tide", "span 40"],
      ["Tide", null],
    ],
    ["span 20", "span 40", "draft"],
  ],
  [
    "two plans: titles tell them apart",
    [
      ["Tide", "first"],
      ["Ebb", "first"],
    ],
    ["first · Tide", "first · Ebb"],
  ],
  [
    "nothing left but the title",
    [
      ["Tide", "Tide"],
      ["Tide", "span 40"],
    ],
    ["Tide", "span 40 · Tide"],
  ],
  [
    "the same words twice",
    [
      ["Tide", "Tide, best"],
      ["Tide", "best"],
    ],
    ["Tide, best", "best · Tide"],
  ],
  ["one alone", [["Tide", "Tide, span 20"]], ["Tide, span 20"]],
])("heads of %s", (_what, runs, heads) => {
  expect(headsOf(runs.map(([title, name]) => named(title, name)))).toEqual(heads);
});
