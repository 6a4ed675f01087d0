/**
 * What the figures of trust are worth, on worlds whose truth is known: two families of plans are tuned on one, two and three
 * years of worlds with no edge, and with edges of several sizes, and the best setting is tried on the year after. Writes
 * docs/trust-study.md. `--long` makes five times as many worlds.
 */
import { writeFileSync } from "node:fs";
import { cpus } from "node:os";
import { join } from "node:path";
import { workspaceRoot } from "@plan-tester/demo/root";
import { PlanProcess } from "@plan-tester/runner";
import { doubted, type Outcome } from "./study/case.ts";
import { SEARCHES } from "./study/searches.ts";
import {
  biasSentence,
  calibrationTable,
  changesSentence,
  figuresTable,
  goalsTable,
  nearTable,
  nextYearTable,
  powerTable,
} from "./study/tables.ts";
import { KINDS } from "./study/worlds.ts";

const isLong = process.argv.includes("--long");
const WORLDS = Number(process.env.STUDY_WORLDS ?? (isLong ? 40 : 7));
const FIRST_SEED = 1000;

const tasks = Array.from({ length: WORLDS }, (_none, k) => FIRST_SEED + k).flatMap((seed) => KINDS.map((kind) => ({ kind, seed })));
const found: Outcome[][] = [];
let [next, done] = [0, 0];
const began = performance.now();
await Promise.all(
  // One more than there are cores: making a world leaves a process with nothing to do.
  Array.from({ length: cpus().length + 1 }, async () => {
    const process = new PlanProcess();
    while (next < tasks.length) {
      const place = next++;
      const { kind, seed } = tasks[place]!;
      found[place] = await doubted(process, kind, seed);
      done++;
      const perTask = (performance.now() - began) / 60_000 / done;
      console.log(`  ${done} of ${tasks.length} worlds, ${(perTask * (tasks.length - done)).toFixed(1)} min to go`);
    }
    process.kill("done");
  }),
);
const outcomes = found.flat();
const nulls = KINDS.filter(({ isNull }) => isNull);

const text = `# What the figures of trust are worth
Made by \`npm run study\`${isLong ? " with `--long`" : ""} (seeded; the same on every machine, ${isLong ? "about an hour" : "under 15 minutes"} on two cores). Worlds of hourly bars whose truth is known are searched over their first year, their first two and their first three, the setting with the best Sharpe ratio is taken, and is tried, unchanged, on the year after. Each kind of world is made ${WORLDS} times, with seeds of its own: ${outcomes.length} searches in all. The years of one world overlap, so that intervals over all lengths are rather too narrow.

Worlds: ${KINDS.map(({ name, what }) => `**${name}**, ${what}`).join("; ")}. ${nulls.map(({ name }) => name).join(", ")} have no edge at all. TIDE’s fades away: it counts neither as a world with an edge nor as one without.

Searches: ${SEARCHES.map(({ name, what, variants }) => `*${name}*: ${what}, ${variants.length} settings`).join("; ")}.

## Goals
${goalsTable(outcomes)}

## Belief
${figuresTable(outcomes)}

A figure believes where its share of chance is 5 % or less, the probability of overfitting where it is below its limit. The area under the curve is how likely a world with an edge scores higher than one without.

## Calibration
Of searches where there is nothing to find, 5 in 100 should come to p ≤ 5 %.

${calibrationTable(outcomes)}

${changesSentence(outcomes)}

## Power
The true ratio of a kind of world is that of the setting that does best over all its worlds' searched years, measured in the years after.

${powerTable(outcomes)}

${nearTable(outcomes)}

In brackets stands what the app says of it, measured earlier with 1,040 settings of a crossing.

## The year after
${nextYearTable(outcomes)}

${biasSentence(outcomes)}

## What this does not show
Two families of plans and hourly bars; edges that stay as they are but for TIDE's; no settings that were tried outside the search.
`;
writeFileSync(join(workspaceRoot(), "docs", "trust-study.md"), text);
console.log(text);
process.exit(0);
