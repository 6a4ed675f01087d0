/** Fills an empty database with the demo world: instruments and bars, example plans, kept runs of each, one sweep. */
import { PLAIN_SETTINGS, type RunSettings } from "@plan-tester/contract";
import { EXAMPLES, type Example, exampleSource, generateHistory, HISTORY_TO, INSTRUMENTS, MODULES, moduleText } from "@plan-tester/demo";
import { linkModules } from "@plan-tester/runner";
import type { Database } from "../db/database.ts";
import { InstrumentEntity } from "../db/entities.ts";
import type { BarRepository } from "../features/markets/bar-repository.ts";
import type { PlanRepository } from "../features/plans/plan-repository.ts";
import type { RunService } from "../features/runs/run-service.ts";
import type { SweepService } from "../features/sweeps/sweep-service.ts";
import type { WalkForwardService } from "../features/walk-forwards/walk-forward-service.ts";
import type { WatchService } from "../features/watches/watch-service.ts";

export interface SeedParts {
  readonly database: Database;
  readonly bars: BarRepository;
  readonly plans: PlanRepository;
  readonly runs: RunService;
  readonly sweeps: SweepService;
  readonly walks: WalkForwardService;
}

function settingsOf({ symbol, timeframe, from, to, alsoOn = [], testPosition }: Example): RunSettings {
  return { ...PLAIN_SETTINGS, symbol, timeframe, from, to, alsoOn: [...alsoOn], testPosition: testPosition ?? null };
}

export async function isSeeded(database: Database): Promise<boolean> {
  return (await database.read.countBy(InstrumentEntity, { origin: "demo" })) === INSTRUMENTS.length;
}

export async function seed({ database, bars, plans, runs, sweeps, walks }: SeedParts, say: (text: string) => void): Promise<void> {
  for (const [i, instrument] of INSTRUMENTS.entries()) {
    const { symbol } = instrument;
    const { columns } = generateHistory(symbol, HISTORY_TO);
    await database.write((manager) =>
      manager.upsert(InstrumentEntity, { symbol, facts: JSON.stringify(instrument), origin: "demo", createdMs: i }, ["symbol"]),
    );
    await bars.replace(symbol, "1m", columns);
    say(`${symbol}: ${columns.time.length.toLocaleString("en-GB")} minutes`);
  }
  for (const name of MODULES)
    await plans.insert({
      id: name,
      title: name,
      source: moduleText(name)!,
      inputs: {},
      settings: settingsOf(EXAMPLES[0]!),
      note: "A module: plans import it.",
      updatedMs: Date.now(),
      reservedFrom: "",
    });
  for (const [i, example] of [...EXAMPLES].reverse().entries()) {
    const source = exampleSource(example);
    const settings = settingsOf(example);
    const linked = await linkModules(source, async (name) => moduleText(name));
    const { head } = await runs.run({ id: `${example.id}-first`, planId: example.id, source: linked, inputs: {}, settings });
    await plans.insert({
      id: example.id,
      title: head.title,
      source,
      inputs: {},
      settings,
      note: example.note,
      updatedMs: Date.now() + i,
      reservedFrom: "",
    });
    await runs.keep(`${example.id}-first`, { name: "As shipped", note: "", tags: ["example"] });
    say(`${head.title}: one run`);
  }
  const swept = EXAMPLES[0]!;
  const sweep = await sweeps.start({
    planId: swept.id,
    source: exampleSource(swept),
    inputs: {},
    settings: settingsOf(swept),
    ranges: [
      { input: "span", from: 20, to: 120, step: 10 },
      { input: "width", from: 1.4, to: 3, step: 0.2 },
    ],
    outOfSample: { from: "2025-03-01", to: "2025-08-31" },
    aim: "returnToDrawdown",
    constraints: [],
    search: null,
  });
  await sweeps.finished(sweep.id);
  say(`${sweep.planTitle}: a sweep of ${sweep.variants} variants`);
  const walk = await walks.start({
    planId: swept.id,
    source: exampleSource(swept),
    inputs: {},
    settings: { ...settingsOf(swept), to: "2025-08-31" },
    ranges: [
      { input: "span", from: 30, to: 120, step: 15 },
      { input: "width", from: 1.6, to: 2.8, step: 0.4 },
    ],
    aim: "returnToDrawdown",
    constraints: [],
    search: null,
    inSample: 120,
    outOfSample: 40,
    anchored: false,
    leastTrades: 5,
  });
  await walks.finished(walk.id);
  say(`${walk.planTitle}: a walk-forward of ${walk.total} windows`);
}

/** Sets the first example to watch, so that the Watches have something to show. Waits for the venue. */
export async function startFirstWatch(watches: WatchService): Promise<void> {
  const example = EXAMPLES[0]!;
  const request = { planId: example.id, source: exampleSource(example), inputs: {}, settings: { ...settingsOf(example), timeframe: "5m" } };
  for (let attempt = 0; attempt < 60 && !watches.venueStatus.connected; attempt++) await new Promise((resolve) => setTimeout(resolve, 250));
  await watches.start(request);
}
