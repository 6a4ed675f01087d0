/** Takes a bundle into the workspace: all of it is checked before anything is written, and its runs are made again. */
import { randomUUID } from "node:crypto";
import { isDeepStrictEqual } from "node:util";
import {
  type BundledInstrument,
  type BundledPlan,
  type BundledRun,
  type BundleReport,
  bundledInstrumentSchema,
  bundledKitSchema,
  bundledPlanSchema,
  bundledRunSchema,
  check,
  type KitBody,
  readInstrument,
} from "@plan-tester/contract";
import { type Instrument, PlanTesterError } from "@plan-tester/core";
import { isCurrentHash, type ProcessPool, reportPlan, unnamedDays } from "@plan-tester/runner";
import type { Database } from "../../db/database.ts";
import { InstrumentEntity } from "../../db/entities.ts";
import type { EventStream } from "../../http/events.ts";
import { messageOf } from "../../text.ts";
import type { UnpackedBundle } from "../../work/bundle-tasks.ts";
import { forgetPast } from "../markets/facts.ts";
import { fingerprintOfRun, headOf } from "../runs/run-service.ts";
import type { BundleWriterParts } from "./bundle-writer.ts";

export interface BundleReaderParts extends Omit<BundleWriterParts, "plans"> {
  readonly database: Database;
  readonly pool: ProcessPool;
  readonly events: EventStream;
}

interface Contents {
  readonly plans: readonly BundledPlan[];
  readonly kits: readonly KitBody[];
  readonly runs: readonly BundledRun[];
  readonly instruments: readonly (Omit<BundledInstrument, "instrument" | "bars"> & {
    readonly instrument: Instrument;
    /** null where the bundle has none. */
    readonly bars: UnpackedBundle["bars"][string] | null;
    /** Of its bars, also where the bundle leaves them out. */
    readonly hash: string | null;
  })[];
}

/** Facts with all defaults: two that say the same are equal then. */
const filledIn = (facts: object): Instrument => readInstrument(structuredClone(facts));

/** @throws PlanTesterError bad-input naming the file and the field */
function contentsOf({ texts, bars }: UnpackedBundle): Contents {
  const all = <T>(folder: string, schema: object, read: (value: T, path: string) => void): void => {
    for (const [path, text] of Object.entries(texts)) {
      if (!path.startsWith(`${folder}/`)) continue;
      let value: unknown;
      try {
        value = JSON.parse(text);
      } catch (error) {
        throw new PlanTesterError("bad-input", `${path} is not JSON: ${messageOf(error)}`, { path });
      }
      read(check<T>(schema, value, path), path);
    }
  };
  const plans: BundledPlan[] = [];
  const kits: KitBody[] = [];
  const runs: BundledRun[] = [];
  const instruments: Contents["instruments"][number][] = [];
  all<BundledPlan>("plans", bundledPlanSchema, (plan) => {
    for (const { version } of plan.trials)
      if (version >= plan.versions.length)
        throw new PlanTesterError(
          "bad-input",
          `plans/${plan.id}.json: a trial names version ${version}, and there are ${plan.versions.length}.`,
          {},
        );
    plans.push(plan);
  });
  all<KitBody>("kits", bundledKitSchema, (kit) => void kits.push(kit));
  all<BundledRun>("runs", bundledRunSchema, (run) => void runs.push(run));
  all<BundledInstrument>("instruments", bundledInstrumentSchema, ({ instrument, timeframe, bars: told }, path) => {
    const file = path.replace("instruments/", "bars/").replace(".json", ".csv");
    const own = bars[file] ?? null;
    if (told && (!own || own.hash !== told.hash))
      throw new PlanTesterError("bad-input", `${file} ${own ? "has other bars than" : "is missing:"} ${path} says.`, { path: file });
    // What the file says stays as it is: defaults are filled in at the top alone.
    const facts = { ...filledIn(instrument), ...instrument } as Instrument;
    instruments.push({ instrument: facts, timeframe, bars: told && own, hash: told?.hash ?? null });
  });
  return { plans, kits, runs, instruments };
}

const stoppedRun = ({ name }: BundledRun): BundleReport["runs"][number] => ({
  ...{ id: null, name, outcome: "not made" },
  text: "stopped before it was made again; open the bundle again for it",
});

export class BundleReader {
  readonly #parts: BundleReaderParts;
  /** Those that are being opened. */
  readonly #opening = new Map<string, AbortController>();

  constructor(parts: BundleReaderParts) {
    this.#parts = parts;
  }

  /** @throws PlanTesterError bad-input, limit, conflict: nothing is written then */
  async open(id: string, file: string): Promise<BundleReport> {
    const stop = new AbortController();
    this.#opening.set(id, stop);
    try {
      return await this.#open(id, file, stop.signal);
    } finally {
      this.#opening.delete(id);
    }
  }

  /**
   * No further run is made again; the one at work is finished.
   * @throws PlanTesterError not-found: it is not being opened, or is done
   */
  stop(id: string): void {
    const stop = this.#opening.get(id);
    if (!stop) throw new PlanTesterError("not-found", `No bundle is being opened under ${id}: it may be done.`, { id });
    stop.abort();
  }

  async #open(id: string, file: string, stopped: AbortSignal): Promise<BundleReport> {
    const unpacked = await this.#parts.thread.unpackBundle(file);
    const { plans, kits, runs, instruments } = contentsOf(unpacked);
    await this.#parts.files.checkModules(plans.map(({ file }) => file));
    const of: { instruments: BundleReport["instruments"][number][]; kits: BundleReport["kits"][number][] } = { instruments: [], kits: [] };
    for (const told of instruments) of.instruments.push(await this.#takeInstrument(told));
    for (const kit of kits) of.kits.push(await this.#takeKit(kit));
    const ids = new Map<string, string>();
    const taken: { id: string; title: string }[] = [];
    for (const plan of plans) {
      const made = await this.#takePlan(plan);
      ids.set(plan.id, made.id);
      taken.push(made);
    }
    const made: BundleReport["runs"][number][] = [];
    for (const run of runs) {
      this.#parts.events.send({ type: "import-progress", id, done: made.length, total: runs.length });
      made.push(stopped.aborted ? stoppedRun(run) : await this.#takeRun(run, ids.get(run.planId) ?? run.planId));
    }
    const { title, note } = unpacked.manifest;
    return { title, note, plans: taken, ...of, runs: made };
  }

  async #takeInstrument({
    instrument,
    timeframe,
    bars,
    hash,
  }: Contents["instruments"][number]): Promise<BundleReport["instruments"][number]> {
    const { database, bars: sets, markets } = this.#parts;
    const { symbol } = instrument;
    const known = await database.read.findOneBy(InstrumentEntity, { symbol, deletedMs: 0 });
    if (known) {
      const set = await sets.setOf(symbol);
      const isSame =
        isDeepStrictEqual(unnamedDays(filledIn(known.facts)), unnamedDays(filledIn(instrument))) &&
        (!hash || (set && (set.repairedHash || set.hash)) === hash);
      return { symbol, outcome: isSame ? "there already" : "other facts or bars are there" };
    }
    if (!bars) return { symbol, outcome: "no bars" };
    const row = { symbol, facts: instrument, origin: "import" as const, createdMs: Date.now(), deletedMs: 0 };
    await database.write(async (manager) => {
      await forgetPast(manager, symbol);
      await manager.upsert(InstrumentEntity, row, ["symbol"]);
    });
    await sets.replace(symbol, timeframe, bars.columns);
    markets.changed(symbol);
    await markets.thumbnail(symbol);
    return { symbol, outcome: "added" };
  }

  async #takeKit(kit: KitBody): Promise<BundleReport["kits"][number]> {
    const { name } = kit;
    const known = (await this.#parts.kits.list()).find((other) => other.name.toLowerCase() === name.toLowerCase());
    if (!known) {
      await this.#parts.kits.insert(kit);
      return { name, outcome: "added" };
    }
    return {
      name,
      outcome: isDeepStrictEqual(known.kit, { ...kit.kit, name: known.name }) ? "there already" : "another of the name is there",
    };
  }

  async #takePlan({ file, reservedFrom, versions, trials }: BundledPlan): Promise<{ id: string; title: string }> {
    const { id, title } = await this.#parts.files.read(file, reservedFrom);
    const texts: string[] = [];
    for (const version of versions) texts.push((await this.#parts.versions.keep(id, version, version.createdMs)).id);
    await this.#parts.journal.takeIn(
      id,
      trials.map(({ version, ...trial }) => ({ ...trial, versionId: texts[version] ?? "" })),
    );
    return { id, title };
  }

  /** Made again, kept, and held against what the bundle says that it came to. */
  async #takeRun(run: BundledRun, planId: string): Promise<BundleReport["runs"][number]> {
    const { name, source, inputs, settings, dataHash, resultHash, madeBy } = run;
    const notMade = (text: string): BundleReport["runs"][number] => ({ id: null, name, outcome: "not made", text });
    if (madeBy !== "plan") return notMade(`a ${madeBy} made it, not one run of a plan; its run document is in the bundle`);
    try {
      const { requests, pool, runs } = this.#parts;
      const { request, hash } = await requests.for({ source, inputs, settings }, settings);
      if (hash !== dataHash) return notMade("the bars here are not those that it was made on");
      const made = await pool.use((process) => reportPlan(process, request));
      const id = (await runs.isKept(run.id)) ? randomUUID().slice(0, 12) : run.id;
      const fingerprint = fingerprintOfRun({ ...request, inputs: made.inputs }, settings, hash);
      const head = headOf({ id, planId, source, settings }, made, fingerprint, hash, request.feeds[0]!.data.series);
      await runs.adopt({ head, trades: made.trades, orders: made.orders, columns: made.columns }, run);
      if (head.resultHash === resultHash) return { id, name, outcome: "same", text: "every fill, trade and equity value is the same" };
      return isCurrentHash(resultHash)
        ? { id, name, outcome: "differs", text: "run here it came to another result; what is kept is that of here" }
        : { id, name, outcome: "differs", text: "an earlier version hashed its result in another way; what is kept is that of here" };
    } catch (error) {
      if (error instanceof PlanTesterError) return notMade(error.message);
      throw error;
    }
  }
}
