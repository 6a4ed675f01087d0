/** Puts a bundle together: the plans and runs that were asked for, and all that belongs to them. */
import type { BundledInstrument, BundledPlan, BundledRun, BundleRequest, KitBody, RunHead } from "@plan-tester/contract";
import { type Instrument, sliceColumns } from "@plan-tester/core";
import type { BundleContent } from "../../work/bundle-tasks.ts";
import type { WorkThread } from "../../work/work-thread.ts";
import type { Journal } from "../journal/journal.ts";
import type { VersionRepository } from "../journal/versions.ts";
import type { KitRepository } from "../kits/kit-repository.ts";
import type { BarRepository } from "../markets/bar-repository.ts";
import type { MarketService } from "../markets/market-service.ts";
import type { PlanFiles } from "../plans/plan-files.ts";
import type { PlanRepository } from "../plans/plan-repository.ts";
import type { RunRequests } from "../runs/run-requests.ts";
import type { RunService } from "../runs/run-service.ts";

export interface BundleWriterParts {
  readonly plans: PlanRepository;
  readonly files: PlanFiles;
  readonly versions: VersionRepository;
  readonly journal: Journal;
  readonly kits: KitRepository;
  readonly markets: MarketService;
  readonly bars: BarRepository;
  readonly runs: RunService;
  readonly requests: RunRequests;
  /** Of bundles alone: packing takes seconds. */
  readonly thread: WorkThread;
}

const madeBy = ({ walkForwardId, watched }: RunHead): BundledRun["madeBy"] =>
  walkForwardId ? "walk-forward" : watched && !watched.isBacktest ? "watch" : "plan";

export class BundleWriter {
  readonly #parts: BundleWriterParts;

  constructor(parts: BundleWriterParts) {
    this.#parts = parts;
  }

  /** The zip file, in pieces. @throws PlanTesterError not-found for a plan or run that is not there */
  async write({ title, note, plans, runs, hasBars }: BundleRequest): Promise<readonly Uint8Array[]> {
    const { thread } = this.#parts;
    const files: { path: string; content: BundleContent }[] = [];
    const add = (path: string, value: object): void => void files.push({ path, content: { text: `${JSON.stringify(value, null, 1)}\n` } });
    const planIds = new Set(plans);
    const instruments = new Map<string, Instrument>();
    const need = (all: readonly Instrument[]): void => {
      for (const instrument of all) instruments.set(instrument.symbol, instrument);
    };
    for (const id of runs) {
      const head = await this.#parts.runs.head(id);
      if (await this.#parts.plans.find(head.planId)) planIds.add(head.planId);
      const used = await this.#instrumentsOf(head);
      need(used);
      add(`runs/${id}.json`, runOf(head));
      const [evidence, orders, columns] = await Promise.all([
        this.#parts.runs.evidenceText(id),
        this.#parts.runs.part(id, "orders"),
        this.#parts.runs.part(id, "columns"),
      ]);
      files.push({ path: `documents/${id}.json`, content: { run: { evidence, orders, columns, instruments: used } } });
    }
    for (const id of planIds) {
      const plan = await this.#planOf(id);
      const { symbol, alsoOn } = plan.file.settings;
      need(await this.#parts.markets.instruments([symbol, ...alsoOn]));
      add(`plans/${id}.json`, plan);
    }
    const kits = (await this.#parts.kits.list()).filter(({ usedBy }) => usedBy.some(({ planId }) => planIds.has(planId)));
    for (const [k, { name, description, kit }] of kits.entries()) add(`kits/${k + 1}.json`, { name, description, kit } satisfies KitBody);
    for (const [k, instrument] of [...instruments.values()].entries()) {
      const set = await this.#parts.bars.setOf(instrument.symbol);
      // With what repairs leave of them: that is what runs were made on.
      const held = set && hasBars ? await this.#parts.markets.base(instrument.symbol) : null;
      const told: BundledInstrument = {
        instrument: instrument as unknown as BundledInstrument["instrument"],
        timeframe: set?.timeframe ?? "1m",
        bars: held && { count: held.series.length, hash: held.hash },
      };
      add(`instruments/${k + 1}.json`, told);
      if (held) files.push({ path: `bars/${k + 1}.csv`, content: { bars: sliceColumns(held.series, 0, held.series.length) } });
    }
    return thread.packBundle({ title, note, madeMs: Date.now(), files });
  }

  async #instrumentsOf(head: RunHead): Promise<Instrument[]> {
    if (madeBy(head) === "plan") return (await this.#parts.requests.of(head)).request.feeds.map(({ instrument }) => instrument);
    return this.#parts.markets.instruments([head.settings.symbol, ...head.settings.alsoOn]);
  }

  async #planOf(id: string): Promise<BundledPlan> {
    const { plans, files, versions, journal } = this.#parts;
    const rows = await versions.all(id);
    const place = new Map(rows.map((row, k) => [row.id, k]));
    return {
      id,
      file: await files.write(id),
      reservedFrom: (await plans.find(id))?.reservedFrom ?? "",
      versions: rows.map(({ name, createdMs, source, inputs, settings }) => ({ name, createdMs, source, inputs, settings })),
      trials: (await journal.all(id)).map(({ id: _id, planId: _plan, versionId, ...trial }) => ({
        ...trial,
        changes: [...trial.changes],
        version: place.get(versionId) ?? -1,
      })),
    };
  }
}

function runOf(head: RunHead): BundledRun {
  const { id, planId, title, source, inputs, settings, kept, dataHash, resultHash } = head;
  return {
    ...{ id, planId, title, source, inputs, settings, madeBy: madeBy(head), dataHash, resultHash },
    ...{ name: kept?.name || title, note: kept?.note ?? "", tags: [...(kept?.tags ?? [])] },
  };
}
