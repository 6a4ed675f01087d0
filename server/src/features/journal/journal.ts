/** The dated record of what was tried with each plan, and the texts that its plans had. */
import { randomUUID } from "node:crypto";
import type {
  PlanDetail,
  PlanVersion,
  PlanVersionDetail,
  RunEvidence,
  RunSettings,
  SweepDetail,
  Trial,
  TrialContext,
  VersionCreate,
} from "@plan-tester/contract";
import { type InputValues, PlanTesterError, sampleDeviation } from "@plan-tester/core";
import { hashText } from "@plan-tester/runner";
import type { Database } from "../../db/database.ts";
import { PlanEntity, PlanVersionEntity, type PlanVersionRow, TrialEntity, type TrialRow } from "../../db/entities.ts";
import { changesBetween, type Tried } from "./changes.ts";

const MOST_TRIALS = 1000;

function versionOf({ id, planId, createdMs, name, source }: PlanVersionRow): PlanVersion {
  return { id, planId, createdMs, name, lines: source.split("\n").length };
}

const detailOf = (row: PlanVersionRow): PlanVersionDetail => ({
  ...versionOf(row),
  source: row.source,
  inputs: JSON.parse(row.inputs),
  settings: JSON.parse(row.settings),
});

const NO_FIGURES = { netProfit: null, maxDrawdown: null, trades: null, sharpe: null, sharpeVariance: null };

/** What a walk-forward tries. */
export interface Walked {
  readonly id: string;
  readonly planId: string;
  readonly createdMs: number;
  readonly source: string;
  readonly variants: number;
  readonly inputs: InputValues;
  readonly settings: RunSettings;
}

/** Variance of the yearly Sharpe ratios across trials: that of the largest sweep, else that of single runs; null where neither tells. */
function varianceOf(rows: readonly TrialRow[]): number | null {
  const sweeps = rows.filter(({ sharpeVariance }) => sharpeVariance !== null).sort((a, b) => b.variants - a.variants);
  if (sweeps[0]) return sweeps[0].sharpeVariance;
  const deviation = sampleDeviation(rows.flatMap(({ sharpe }) => (sharpe === null ? [] : [sharpe])));
  return deviation === null ? null : deviation ** 2;
}

function trialOf(row: TrialRow): Trial {
  const { inputs: _inputs, sharpeVariance: _variance, ...rest } = row;
  return { ...rest, settings: JSON.parse(row.settings), changes: JSON.parse(row.changes) };
}

export class Journal {
  readonly #database: Database;

  constructor(database: Database) {
    this.#database = database;
  }

  /** Notes a run, with what was changed since the trial before it. */
  async ran({ id, planId, createdMs, source, inputs, settings, status, figures }: RunEvidence): Promise<void> {
    const { netProfit, maxDrawdown, trades, sharpe } = figures;
    await this.#note(
      { planId, createdMs, kind: "run", runId: id, variants: 1, status, netProfit, maxDrawdown, trades, sharpe, sharpeVariance: null },
      { source, inputs, settings },
    );
  }

  /** Notes a sweep that has begun: how many settings it tries. */
  async swept({ id, planId, createdMs, source, variants, status, request }: SweepDetail): Promise<void> {
    const nothing = NO_FIGURES;
    await this.#note(
      { planId, createdMs, kind: "sweep", runId: id, variants, status, ...nothing },
      { source, inputs: request.inputs, settings: request.settings },
    );
  }

  /** A sweep is over, or left: how its Sharpe ratios vary. */
  async sweepEnded(id: string, sharpes: readonly number[]): Promise<void> {
    const deviation = sampleDeviation(sharpes);
    if (deviation !== null)
      await this.#database.write((manager) => manager.update(TrialEntity, { runId: id }, { sharpeVariance: deviation ** 2 }));
  }

  /** Notes a walk-forward that has begun. */
  async walked({ id, planId, createdMs, source, variants, inputs, settings }: Walked): Promise<void> {
    await this.#note(
      { planId, createdMs, kind: "walk-forward", runId: id, variants, status: "running", ...NO_FIGURES },
      { source, inputs, settings },
    );
  }

  /** Notes that the reserved stretch of a plan was opened, or that one was set apart. */
  async reserved({ id, source, inputs, settings }: PlanDetail, reservedFrom: string): Promise<void> {
    const before = await this.#lastOf(id);
    const version = await this.keepVersion(id, { source, inputs, settings, name: "" });
    const row = {
      ...{
        planId: id,
        createdMs: Date.now(),
        kind: "reserve" as const,
        runId: "",
        variants: 0,
        status: "",
        ...NO_FIGURES,
        versionId: version.id,
      },
      inputs: JSON.stringify(before?.inputs ?? inputs),
      settings: JSON.stringify(before?.settings ?? settings),
      changes: JSON.stringify([reservedFrom ? `kept unseen from ${reservedFrom} on` : "the reserved stretch was opened"]),
    };
    await this.#database.write((manager) => manager.insert(TrialEntity, row));
  }

  /**
   * Keeps runs out of the stretch that a plan has reserved.
   * @throws PlanTesterError conflict when a period reaches into it.
   */
  async refuseReserved(planId: string, to: string): Promise<void> {
    const plan = await this.#database.read.findOne(PlanEntity, { select: { id: true, reservedFrom: true }, where: { id: planId } });
    if (plan?.reservedFrom && to >= plan.reservedFrom)
      throw new PlanTesterError(
        "conflict",
        `The period ends on ${to} and reaches into the stretch that is kept unseen, from ${plan.reservedFrom} on. End it earlier, or open the reserve on purpose.`,
        { reservedFrom: plan.reservedFrom },
      );
  }

  /** What is known of the history that a plan has been tried on. */
  async context(planId: string): Promise<TrialContext> {
    const rows = await this.#database.read.find(TrialEntity, { where: { planId }, order: { id: "DESC" }, take: MOST_TRIALS });
    const plan = await this.#database.read.findOneBy(PlanEntity, { id: planId });
    const tried = rows.filter(({ kind }) => kind !== "reserve");
    const stretches = tried.map(({ kind, variants, createdMs, settings }) => {
      const { symbol, from, to } = JSON.parse(settings) as Tried["settings"];
      return { symbol, from, to, kind: kind as "run" | "sweep" | "walk-forward", variants, createdMs };
    });
    return {
      trials: tried.reduce((sum, { variants }) => sum + variants, 0),
      sharpeVariance: varianceOf(tried),
      stretches,
      reservedFrom: plan?.reservedFrom ?? "",
    };
  }

  async #note(trial: Omit<TrialRow, "id" | "versionId" | "inputs" | "settings" | "changes">, tried: Tried): Promise<void> {
    const before = await this.#lastOf(trial.planId);
    const version = await this.keepVersion(trial.planId, { ...tried, name: "" });
    const row = {
      ...trial,
      versionId: version.id,
      inputs: JSON.stringify(tried.inputs),
      settings: JSON.stringify(tried.settings),
      changes: JSON.stringify(changesBetween(before, tried)),
    };
    await this.#database.write((manager) => manager.insert(TrialEntity, row));
  }

  /** The last thing tried with a plan. */
  async #lastOf(planId: string): Promise<Tried | null> {
    const [last] = await this.#database.read.find(TrialEntity, { where: { planId }, order: { id: "DESC" }, take: 1 });
    if (!last) return null;
    const version = await this.#database.read.findOneBy(PlanVersionEntity, { id: last.versionId });
    return { source: version?.source ?? "", inputs: JSON.parse(last.inputs), settings: JSON.parse(last.settings) };
  }

  /** The last trials of a plan, newest first. */
  async trials(planId: string): Promise<Trial[]> {
    const where = planId ? { planId } : {};
    return (await this.#database.read.find(TrialEntity, { where, order: { id: "DESC" }, take: MOST_TRIALS })).map(trialOf);
  }

  // --- versions ---------------------------------------------------------------------------------------------------

  /** Keeps a text of a plan, once; a name given later names it. */
  async keepVersion(
    planId: string,
    { source, inputs, settings, name }: Omit<VersionCreate, "inputs"> & { inputs: InputValues },
  ): Promise<PlanVersion> {
    const hash = hashText(source);
    const known = await this.#database.read.findOneBy(PlanVersionEntity, { planId, hash });
    if (known) {
      if (name) await this.rename(known.id, name);
      return versionOf({ ...known, name: name || known.name });
    }
    const row: PlanVersionRow = {
      id: randomUUID().slice(0, 8),
      planId,
      createdMs: Date.now(),
      name,
      hash,
      source,
      inputs: JSON.stringify(inputs),
      settings: JSON.stringify(settings),
    };
    await this.#database.write((manager) => manager.insert(PlanVersionEntity, row));
    return versionOf(row);
  }

  async versions(planId: string): Promise<PlanVersion[]> {
    return (await this.#database.read.find(PlanVersionEntity, { where: { planId }, order: { createdMs: "DESC" } })).map(versionOf);
  }

  async version(id: string): Promise<PlanVersionDetail> {
    const row = await this.#database.read.findOneBy(PlanVersionEntity, { id });
    if (!row) throw new PlanTesterError("not-found", `There is no version "${id}".`, { id });
    return detailOf(row);
  }

  async rename(id: string, name: string): Promise<void> {
    await this.#database.write((manager) => manager.update(PlanVersionEntity, { id }, { name }));
  }
}
