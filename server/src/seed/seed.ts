/**
 * Makes the demo world: instruments and bars, example plans, a kept run of each, a sweep, a walk-forward. Every step looks
 * whether it was done before, so that a start that was cut off goes on where it was.
 */
import { checkShape, type KitBody, PLAIN_SETTINGS, ROUTES, type RunSettings } from "@plan-tester/contract";
import { type BarLayout, DAY_MS, type ExitKit } from "@plan-tester/core";
import {
  EXAMPLES,
  type Example,
  exampleSource,
  generateHistory,
  HISTORY_TO,
  INSTRUMENTS,
  KITS,
  kitText,
  MODULES,
  moduleText,
} from "@plan-tester/demo";
import { linkModules } from "@plan-tester/runner";
import PQueue from "p-queue";
import type { Database } from "../db/database.ts";
import { InstrumentEntity } from "../db/entities.ts";
import type { BlendRepository } from "../features/blends/blend-repository.ts";
import type { KitRepository } from "../features/kits/kit-repository.ts";
import type { BarRepository } from "../features/markets/bar-repository.ts";
import type { PlanRepository } from "../features/plans/plan-repository.ts";
import type { RunService } from "../features/runs/run-service.ts";
import type { SourceRepository } from "../features/sources/source-repository.ts";
import type { SweepService } from "../features/sweeps/sweep-service.ts";
import type { WalkForwardService } from "../features/walk-forwards/walk-forward-service.ts";
import type { WatchService } from "../features/watches/watch-service.ts";

export interface SeedParts {
  readonly database: Database;
  readonly bars: BarRepository;
  readonly plans: PlanRepository;
  readonly kits: KitRepository;
  readonly blends: BlendRepository;
  readonly runs: RunService;
  readonly sweeps: SweepService;
  readonly walks: WalkForwardService;
  readonly sources: SourceRepository;
  /** Where the practice venue listens. */
  readonly venuePort: number;
}

type Say = (text: string) => void;

/** The run that each example is shipped with. */
export const firstRunOf = ({ id }: Example): string => `${id}-first`;

function settingsOf({ symbol, timeframe, from, to, alsoOn = [], testPosition }: Example): RunSettings {
  return { ...PLAIN_SETTINGS, symbol, timeframe, from, to, alsoOn: [...alsoOn], testPosition: testPosition ?? null };
}

export async function seed(parts: SeedParts, say: Say): Promise<void> {
  for (const [i, { symbol }] of INSTRUMENTS.entries()) await seedInstrument(parts, symbol, i, say);
  for (const name of MODULES) await seedModule(parts, name);
  const known = new Set((await parts.kits.list()).map(({ name }) => name.toLowerCase()));
  for (const kit of shippedKits()) if (!known.has(kit.name.toLowerCase())) await parts.kits.insert(kit);
  await seedExamples(parts, say);
  await seedSweep(parts, say);
  await seedWalkForward(parts, say);
  await seedBlend(parts, say);
  await seedSource(parts, say);
}

/** The demo's exit kits as the library keeps them. */
export function shippedKits(): KitBody[] {
  return Object.entries(KITS).map(([file, description]) => {
    const kit = checkShape<ExitKit>(ROUTES.readKit.body, JSON.parse(kitText(file)));
    return { name: kit.name, description, kit };
  });
}

async function seedInstrument({ database, bars }: SeedParts, symbol: string, createdMs: number, say: Say): Promise<void> {
  if (await bars.setOf(symbol)) return;
  const facts = INSTRUMENTS.find((instrument) => instrument.symbol === symbol)!;
  const { columns } = generateHistory(symbol, HISTORY_TO);
  await database.write((manager) =>
    manager.upsert(InstrumentEntity, { symbol, facts, origin: "demo", createdMs, deletedMs: 0 }, ["symbol"]),
  );
  await bars.replace(symbol, "1m", columns);
  say(`${symbol}: ${columns.time.length.toLocaleString("en-GB")} minutes`);
}

async function seedModule({ plans }: SeedParts, name: string): Promise<void> {
  if (await plans.find(name)) return;
  await plans.insert({
    id: name,
    title: name,
    source: moduleText(name)!,
    inputs: {},
    settings: settingsOf(EXAMPLES[0]!),
    note: "A module: plans import it.",
    updatedMs: Date.now(),
    reservedFrom: "",
    revision: 0,
  });
}

/** Examples that are run at a time: as many as there are plan processes for runs. */
const AT_A_TIME = 2;

async function seedExamples(parts: SeedParts, say: Say): Promise<void> {
  const queue = new PQueue({ concurrency: AT_A_TIME });
  const began = Date.now();
  try {
    // The first of them is shown first: it counts as changed last.
    await Promise.all([...EXAMPLES].reverse().map((example, i) => queue.add(() => seedExample(parts, example, began + i, say))));
  } finally {
    // Where one has failed nothing more is begun, and nothing goes on behind this one's back.
    queue.clear();
    await queue.onIdle();
  }
}

async function seedExample({ plans, runs }: SeedParts, example: Example, updatedMs: number, say: Say): Promise<void> {
  const { id, note } = example;
  const runId = firstRunOf(example);
  const source = exampleSource(example);
  const settings = settingsOf(example);
  if (!(await runs.isKept(runId))) {
    const linked = await linkModules(source, async (name) => moduleText(name));
    await runs.run({ id: runId, planId: id, source: linked, inputs: {}, settings });
    await runs.keep(runId, { name: "As shipped", note: "", tags: ["example"] });
  }
  if (await plans.find(id)) return;
  const { title } = await runs.head(runId);
  await plans.insert({ id, title, source, inputs: {}, settings, note, updatedMs, reservedFrom: "", revision: 0 });
  say(`${title}: one run`);
}

const SWEPT = EXAMPLES[0]!;

async function seedSweep({ sweeps }: SeedParts, say: Say): Promise<void> {
  const known = (await sweeps.list()).find(({ planId }) => planId === SWEPT.id);
  // Case: it was cut off, and the server has taken it up again.
  if (known) return sweeps.finished(known.id);
  const sweep = await sweeps.start({
    planId: SWEPT.id,
    source: exampleSource(SWEPT),
    inputs: {},
    settings: settingsOf(SWEPT),
    ranges: [
      { input: "span", from: 60, to: 260, step: 20 },
      { input: "width", from: 1.4, to: 3, step: 0.2 },
    ],
    outOfSample: { from: "2025-03-01", to: "2025-08-31" },
    aim: "returnToDrawdown",
    constraints: [],
    search: null,
  });
  await sweeps.finished(sweep.id);
  say(`${sweep.planTitle}: a sweep of ${sweep.variants} variants`);
}

async function seedWalkForward({ walks }: SeedParts, say: Say): Promise<void> {
  const known = (await walks.list()).find(({ planId }) => planId === SWEPT.id);
  if (known) return walks.finished(known.id);
  const walk = await walks.start({
    planId: SWEPT.id,
    source: exampleSource(SWEPT),
    inputs: {},
    settings: { ...settingsOf(SWEPT), to: "2025-08-31" },
    ranges: [
      { input: "span", from: 80, to: 260, step: 30 },
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

/** The examples of the demo's blend, with the sizes they ran at; the last two are the same rules, as a program and as a sheet. */
const BLENDED = { "kelp-ebb-fade": 2, "worded-rules": 1, "brine-base-entry": 1, "brine-base-entry-sheet": 1 } as const;
export const FIRST_BLEND = "four-of-the-isles";

async function seedBlend({ blends }: SeedParts, say: Say): Promise<void> {
  if ((await blends.list()).some(({ id }) => id === FIRST_BLEND)) return;
  const members = Object.entries(BLENDED).map(([id, size]) => ({
    runId: firstRunOf(EXAMPLES.find((example) => example.id === id)!),
    size,
  }));
  const terms = { rates: {}, tolerated: 20, allowance: 0, fall: "measured", weighting: "by hand", days: "shared", chosenBy: 60 } as const;
  const note = "Four plans on one account. Two of them are twins: see how they move together, and leave one out.";
  const { name } = await blends.insert(
    { name: "Four of the isles", note, setup: { ...terms, cash: 400_000, currency: "XSC", members } },
    FIRST_BLEND,
  );
  say(`${name}: a blend of ${members.length}`);
}

const FIRST_SOURCE = "venue-days";
const SOURCED = "GANN";
/** The practice venue's days as it gives them: a header, then a line for each minute. */
const VENUE_DAYS: BarLayout = {
  ...{ delimiter: ",", headerLines: 1, time: 0, clock: null, zoneColumn: null, open: 1, high: 2, low: 3, close: 4, volume: 5 },
  decimal: ".",
  dateFormat: "iso",
  zone: "UTC",
  stamp: "open",
};

/** Off at first: what it brings makes other data of those that the example runs were made on. */
async function seedSource({ sources, venuePort }: SeedParts, say: Say): Promise<void> {
  if (await sources.has(FIRST_SOURCE)) return;
  const name = `${SOURCED}, each past day of the practice venue`;
  await sources.insert({
    ...{ id: FIRST_SOURCE, symbol: SOURCED, isOn: false, lookedMs: 0 },
    source: {
      ...{ name, kind: "web", place: `http://127.0.0.1:${venuePort}/history/{symbol}/{date}`, symbol: SOURCED },
      ...{ everyMinutes: 10, overlap: "keep", allowsPrivate: true, format: VENUE_DAYS, timeframe: "1m" },
    },
  });
  say(`${name}: a source, switched off`);
}

/** Examples that a new workspace watches, by the timeframe: busy ones, so that there is something to look at soon. */
const FIRST_WATCHES: readonly (readonly [example: string, timeframe: string])[] = [
  ["kelp-ebb-fade", "5m"],
  ["crown-high-water", "15m"],
];

/** Market time that they go through at once, so that there is a history to look at; in no more real time than this. */
const FIRST_HISTORY_MS = 3 * DAY_MS;
const FIRST_HISTORY_PATIENCE_MS = 30_000;
/** As fast as it goes: the clock holds until plans have answered. */
const AT_ONCE = 100_000;

const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

/** Sets examples to watch, and takes them through some days at once, so that the Watches have something to show. Waits for the venue. */
export async function startFirstWatches(watches: WatchService, say: (text: string) => void): Promise<void> {
  for (let attempt = 0; attempt < 60 && !watches.venueStatus.connected; attempt++) await pause(250);
  for (const [id, timeframe] of FIRST_WATCHES) {
    const example = EXAMPLES.find((one) => one.id === id)!;
    await watches.start({ planId: id, source: exampleSource(example), inputs: {}, settings: { ...settingsOf(example), timeframe } });
  }
  const { speed, nowMs } = watches.venueStatus;
  const deadline = Date.now() + FIRST_HISTORY_PATIENCE_MS;
  await watches.setClock({ speed: AT_ONCE, holds: true });
  while (watches.venueStatus.nowMs < nowMs + FIRST_HISTORY_MS && Date.now() < deadline && watches.venueStatus.connected) await pause(250);
  await watches.setClock({ speed });
  say(`two watches through their first ${Math.round((watches.venueStatus.nowMs - nowMs) / DAY_MS)} days`);
}
