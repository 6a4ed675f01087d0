/** The dated record of what was tried with each plan, and the texts that its plans had. */
import { randomUUID } from "node:crypto";
import type { PlanVersion, PlanVersionDetail, RunEvidence, SweepDetail, Trial, VersionCreate } from "@plan-tester/contract";
import { type InputValues, PlanTesterError } from "@plan-tester/core";
import { hashText } from "@plan-tester/runner";
import type { Database } from "../../db/database.ts";
import { PlanVersionEntity, type PlanVersionRow, TrialEntity, type TrialRow } from "../../db/entities.ts";
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

function trialOf(row: TrialRow): Trial {
  const { inputs: _inputs, ...rest } = row;
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
      { planId, createdMs, kind: "run", runId: id, variants: 1, status, netProfit, maxDrawdown, trades, sharpe },
      { source, inputs, settings },
    );
  }

  /** Notes a sweep that has begun: how many settings it tries. */
  async swept({ id, planId, createdMs, source, variants, status, request }: SweepDetail): Promise<void> {
    const nothing = { netProfit: null, maxDrawdown: null, trades: null, sharpe: null };
    await this.#note(
      { planId, createdMs, kind: "sweep", runId: id, variants, status, ...nothing },
      { source, inputs: request.inputs, settings: request.settings },
    );
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
