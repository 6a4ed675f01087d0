/** Executes the table of worked fills in docs/engine-rules.md. */
import { readFileSync } from "node:fs";
import { describe, expect, test } from "vitest";
import { NO_COSTS } from "../market/instrument.ts";
import { barsOf, type Ohlc } from "../testing/bars.ts";
import { runBuild, words } from "../testing/run.ts";

const page = readFileSync(new URL("../../../docs/engine-rules.md", import.meta.url), "utf8");
const rows = page
  .slice(page.indexOf("## Worked fills"))
  .split("\n")
  .filter((line) => line.startsWith("| R"))
  .map(
    (line) =>
      line
        .split("|")
        .slice(1, -1)
        .map((cell) => cell.trim()) as [string, string, string, string, string, string],
  );

const NAMES = ["enter", "exit", "position", "orders", ...Object.keys(words)];
// The page is ours: its code cells are evaluated with the plan language's names.
const code = (text: string, names: readonly string[]): ((...values: unknown[]) => unknown) => new Function(...names, text) as never;
const plain = (cell: string): string => cell.replace(/^`|`$/g, "");

const barOf = (text: string): Ohlc => (text === "F" ? [100, 100, 100, 100] : (text.split(" ").map(Number) as unknown as Ohlc));

interface Settings {
  costs?: object;
}

function run([, , settings, bars, closes]: (typeof rows)[number]) {
  const acts = new Map(
    plain(closes)
      .split(" · ")
      .map((part) => {
        const [bar, text] = part.split(/: (.*)/s) as [string, string];
        return [Number(bar), code(text, NAMES)] as const;
      }),
  );
  const given = (settings === "" ? {} : code(`return ${plain(settings)}`, [])()) as Settings;
  return runBuild(
    barsOf(bars.split("; ").map(barOf)),
    (context) => {
      let bar = -1;
      context.on.barClose(() => {
        bar++;
        acts.get(bar)?.(...NAMES.map((name) => context[name] ?? words[name]));
      });
    },
    { settings: { ...given, costs: { ...NO_COSTS, ...given.costs } } },
  ).trades;
}

const TRADE = /^(long|short) (\d+)@([\d.]+) (\d+)@([\d.]+) ([a-z -]+?)(?: x(\d+))?( \*)?(?: net (-?[\d.]+))?$/;

describe("worked fills", () => {
  test("there are at least forty, and each cites a rule", () => {
    expect(rows.length).toBeGreaterThanOrEqual(40);
    for (const [rule] of rows) expect(page).toMatch(new RegExp(`## ${rule.split(".")[0]} `));
  });

  test.each(rows.map((row) => [row[0], row[1], row] as const))("%s %s", (_rule, _case, row) => {
    const trades = run(row);
    const expected = row[5] === "none" ? [] : row[5].split("; ");
    expect(
      trades.map(({ side, entryBar, entryPrice, exitBar, exitPrice, reason }) => [
        side > 0 ? "long" : "short",
        entryBar,
        entryPrice,
        exitBar,
        exitPrice,
        reason,
      ]),
    ).toEqual(
      expected.map((text) => {
        const [, side, entryBar, entry, exitBar, exit, reason] = TRADE.exec(text)!;
        return [side, Number(entryBar), Number(entry), Number(exitBar), Number(exit), reason];
      }),
    );
    expected.forEach((text, i) => {
      const [, , , , , , , quantity, mark, net] = TRADE.exec(text)!;
      const trade = trades[i]!;
      expect(trade.quantity).toBe(Number(quantity ?? 1));
      expect(trade.pathDependent).toBe(mark !== undefined);
      if (net !== undefined) expect(trade.net).toBeCloseTo(Number(net), 9);
    });
  });
});
