/** Phrases that were replaced stay out of screens, errors and docs. Comments are not looked at, nor is this list. */
import { readdirSync, readFileSync } from "node:fs";
import { join, relative } from "node:path";
import { expect, test } from "vitest";

const ROOT = join(import.meta.dirname, "..", "..");
const PLACES = [
  "web/src",
  "server/src",
  "contract/src",
  "runner/src",
  "venue/src",
  "cli/src",
  "core/src",
  "docs",
  "README.md",
  "CHANGELOG.md",
];

/** Each with what to say instead. */
const REPLACED: readonly (readonly [RegExp, string])[] = [
  [/Return a year/, "annual return"],
  [/Cost a trade/, "cost per trade"],
  [/Value at risk, a day/, "1-day value at risk"],
  [/\b(?:Entries|loss) a session\b/, "per session"],
  [/foretold|foretells/, "estimated, estimates"],
  [/[Dd]rawn anew/, "resampled"],
  [/\b[Ss]hak(?:e|en|ing)\b/, "perturb"],
  [/come out again/, "be reproduced"],
  [/\b(?:not|is|are) under way\b/, "running"],
  [/not at work any more|orders at work/, "no longer active; active orders"],
  [/hangs? (?:on (?:its|the|being)|together)/, "depends on; are clustered"],
  [/How sure one can be/, "how reliable it is"],
  [/of one's own/, "your own"],
  [/Sharpe · held/, "of buy and hold"],
  [/[Ww]hat speaks (?:for|against)/, "evidence for, evidence against"],
  [/\bTake (?:off|both away)\b/, "remove, clear both"],
  [/Run it so/, "run with these exits"],
  [/Blend in a figure/, "add a metric"],
  [/[Kk]e(?:ep|pt) unseen|Open the reserve|reserved stretch/, "hold out, release the holdout, holdout"],
  [/(?:later|longer|this|out-of-sample|in-sample) stretch\b/i, "period"],
  [/\b(?:Sharpe|Volatility|Alpha|Return) a year\b|slippage a fill\b/, "annual …, per fill"],
  [/chosen among on it/, "compared on this period"],
  [/at bar, from the first/, "at bar (0 = first tradable bar)"],
  [/Bars of rest/, "cool-down bars"],
  [/a guard is missing/, "the plan has no guard against repeated entries"],
  [/(?:watches|those) of before/, "earlier watches"],
  [/defect of this program/, "this is a bug in Plan Tester"],
  [/leads nowhere\./, "page not found"],
  [/Nothing is called that/, "no command, plan, run or instrument matches"],
  [/your work is saved/i, "say what was done and what was not"],
];

function* filesIn(path: string): Generator<string> {
  if (!/\.\w+$/.test(path)) {
    for (const entry of readdirSync(path, { withFileTypes: true }))
      if (entry.name !== "corpus" && entry.name !== "screenshots") yield* filesIn(join(path, entry.name));
  } else if (/\.(tsx?|md)$/.test(path) && !/\.test\.tsx?$/.test(path)) yield path;
}

/** A file's text without what only programmers read. */
const said = (path: string): string => {
  const text = readFileSync(path, "utf8");
  return path.endsWith(".md") ? text : text.replace(/\/\*[\s\S]*?\*\//g, "").replace(/(^|\s)\/\/ .*$/gm, "");
};

test("none of them is said again", () => {
  const found: string[] = [];
  for (const place of PLACES)
    for (const path of filesIn(join(ROOT, place)))
      for (const [phrase, better] of REPLACED) {
        const [hit] = phrase.exec(said(path)) ?? [];
        if (hit) found.push(`${relative(ROOT, path)}: "${hit}"; say: ${better}`);
      }
  expect(found).toEqual([]);
});
