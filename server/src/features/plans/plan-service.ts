import { randomUUID } from "node:crypto";
import {
  PLAIN_SETTINGS,
  type PlanCreate,
  type PlanDescriptionBody,
  type PlanDetail,
  type PlanModule,
  type PlanSummary,
  type PlanUpdate,
  type RunSettings,
  SKELETON,
} from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import { describePlan, type ProcessPool } from "@plan-tester/runner";
import type { Journal } from "../journal/journal.ts";
import type { RunRepository } from "../runs/run-repository.ts";
import type { Linker } from "./link-source.ts";
import type { PlanRepository } from "./plan-repository.ts";

const FIRST_SETTINGS: RunSettings = {
  symbol: "KELP",
  timeframe: "15m",
  from: "2024-03-01",
  to: "2025-02-28",
  ...PLAIN_SETTINGS,
};

export class PlanService {
  readonly #plans: PlanRepository;
  readonly #runs: RunRepository;
  readonly #pool: ProcessPool;
  readonly #journal: Journal;
  readonly #linker: Linker;

  constructor(plans: PlanRepository, runs: RunRepository, pool: ProcessPool, journal: Journal, linker: Linker) {
    this.#linker = linker;
    this.#journal = journal;
    this.#plans = plans;
    this.#runs = runs;
    this.#pool = pool;
  }

  async list(): Promise<PlanSummary[]> {
    const last = await this.#runs.lastOfEachPlan();
    return (await this.#plans.list()).map(({ id, title, settings, updatedMs, note }) => ({
      id,
      title,
      symbol: settings.symbol,
      timeframe: settings.timeframe,
      updatedMs,
      note,
      lastRun: last.get(id) ?? null,
    }));
  }

  modules(): Promise<PlanModule[]> {
    return this.#plans.modules();
  }

  async get(id: string): Promise<PlanDetail> {
    const plan = await this.#plans.find(id);
    if (!plan)
      throw new PlanTesterError("not-found", `There is no plan "${id}". It may have been deleted; Plans lists those there are.`, { id });
    return plan;
  }

  async create({ title, source, copyOf }: PlanCreate): Promise<PlanDetail> {
    const original = copyOf ? await this.get(copyOf) : null;
    const plan: PlanDetail = {
      id: randomUUID().slice(0, 8),
      title: title ?? (original ? `${original.title} copy` : "New plan"),
      source: source ?? original?.source ?? SKELETON,
      inputs: original?.inputs ?? {},
      settings: original?.settings ?? FIRST_SETTINGS,
      note: original?.note ?? "",
      updatedMs: Date.now(),
      reservedFrom: "",
    };
    await this.#plans.insert(plan);
    return plan;
  }

  async update(id: string, change: PlanUpdate): Promise<PlanDetail> {
    const before = await this.get(id);
    if (change.reservedFrom !== undefined && change.reservedFrom !== before.reservedFrom)
      await this.#journal.reserved(before, change.reservedFrom);
    // A plan is called what its source says; while the source can't be read it keeps its name.
    const declared =
      change.source === undefined
        ? null
        : await this.#linker
            .link(change.source)
            .then((source) => this.describe(source))
            .catch(() => null);
    await this.#plans.update(id, declared ? { ...change, title: declared.title } : change, Date.now());
    return this.get(id);
  }

  async delete(id: string): Promise<void> {
    await this.get(id);
    await this.#plans.delete(id);
  }

  /** Title and inputs that a source declares, or an error with line and column. */
  describe(source: string): Promise<PlanDescriptionBody> {
    return this.#pool.use((process) => describePlan(process, source));
  }
}
