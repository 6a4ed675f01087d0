import { randomUUID } from "node:crypto";
import { isDeepStrictEqual } from "node:util";
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
  sheetOf,
} from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import { describePlan, type ProcessPool } from "@plan-tester/runner";
import type { Bin } from "../../db/bin.ts";
import type { EventStream } from "../../http/events.ts";
import type { Linker } from "../../modules/linker.ts";
import type { Journal } from "../journal/journal.ts";
import type { VersionRepository } from "../journal/versions.ts";
import type { RunRepository } from "../runs/run-repository.ts";
import { OwnSaves } from "./own-saves.ts";
import type { PlanRepository } from "./plan-repository.ts";
import { renamed } from "./renamed.ts";

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
  readonly #versions: VersionRepository;
  readonly #events: EventStream;
  readonly #bin: Bin;
  readonly #ownSaves = new OwnSaves();

  constructor(parts: {
    readonly plans: PlanRepository;
    readonly runs: RunRepository;
    readonly pool: ProcessPool;
    readonly journal: Journal;
    readonly linker: Linker;
    readonly versions: VersionRepository;
    readonly events: EventStream;
    readonly bin: Bin;
  }) {
    this.#bin = parts.bin;
    this.#linker = parts.linker;
    this.#journal = parts.journal;
    this.#plans = parts.plans;
    this.#runs = parts.runs;
    this.#pool = parts.pool;
    this.#versions = parts.versions;
    this.#events = parts.events;
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

  /** @throws PlanTesterError bad-input or bad-plan for a text whose rule sheet does not fit */
  async create({ title, source, copyOf }: PlanCreate): Promise<PlanDetail> {
    if (source !== undefined) sheetOf(source);
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
      revision: 0,
    };
    await this.#plans.insert(plan);
    return plan;
  }

  /** @throws PlanTesterError conflict with what was saved elsewhere; bad-input or bad-plan as `create` */
  async update(id: string, given: PlanUpdate): Promise<PlanDetail> {
    if (given.source !== undefined) sheetOf(given.source);
    const before = await this.get(id);
    const isRename = given.title !== undefined && given.source === undefined;
    const change = isRename ? { baseRevision: before.revision, ...given, source: renamed(before.source, given.title!) } : given;
    // A plan is called what its source says; while the source can't be read it keeps its name.
    const declared =
      change.source === undefined
        ? null
        : await this.#linker
            .link(change.source)
            .then((source) => this.describe(source))
            .catch(() => null);
    if (isRename && declared?.title !== given.title)
      throw new PlanTesterError(
        "bad-input",
        "The program was left as it is: its title is not a plain text at its head, or it has an error. Change the title there.",
        { title: given.title },
      );
    if (change.reservedFrom !== undefined && change.reservedFrom !== before.reservedFrom)
      await this.#journal.reserved(before, change.reservedFrom);
    const isTaken = await this.#save(id, declared ? { ...change, title: declared.title } : change);
    const now = await this.get(id);
    if (isTaken) this.#events.send({ type: "plan", id, revision: now.revision });
    else if (!this.#ownSaves.isOvertaken(id, change)) await this.#settle(now, change);
    return now;
  }

  /** @returns false where the plan has been saved since the change was begun, other than by an earlier save of the same draft */
  async #save(id: string, change: PlanUpdate): Promise<boolean> {
    const isSaved = async (baseRevision: number | undefined): Promise<boolean> => {
      if (!(await this.#plans.update(id, { ...change, baseRevision }, Date.now()))) return false;
      this.#ownSaves.note(id, change, baseRevision);
      return true;
    };
    if (await isSaved(change.baseRevision)) return true;
    const revision = this.#ownSaves.revisionBefore(id, change);
    return revision !== null && (await isSaved(revision));
  }

  /**
   * A change that was made from an older text. Where it says what the plan says already, it was saved before and its answer
   * got lost. Else both texts are kept as versions, and whoever sent it decides.
   * @throws PlanTesterError conflict with what the plan has now.
   */
  async #settle(now: PlanDetail, { source, inputs, settings }: PlanUpdate): Promise<void> {
    const mine = { source: source ?? now.source, inputs: inputs ?? now.inputs, settings: settings ?? now.settings };
    const theirs = { source: now.source, inputs: now.inputs, settings: now.settings };
    if (isDeepStrictEqual(mine, theirs)) return;
    await this.#versions.keep(now.id, { ...theirs, name: "" });
    await this.#versions.keep(now.id, { ...mine, name: "" });
    throw new PlanTesterError("conflict", "The plan was saved elsewhere since this text was read. Both texts are kept as versions.", {
      revision: now.revision,
      ...theirs,
    });
  }

  async delete(id: string): Promise<void> {
    await this.#bin.put("plan", id);
  }

  /** Title and inputs that a source declares, or an error with line and column. */
  describe(source: string): Promise<PlanDescriptionBody> {
    return this.#pool.use((process) => describePlan(process, source));
  }
}
