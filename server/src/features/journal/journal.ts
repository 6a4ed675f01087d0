/** The dated record of what was tried with each plan. */
import type { PlanDetail, RunHead, SweepDetail, Trial, TrialContext, TrialKind, WalkForwardDetail } from "@plan-tester/contract";
import { type InputSpec, type InputValues, PlanTesterError } from "@plan-tester/core";
import { In, Not } from "typeorm";
import type { Database } from "../../db/database.ts";
import { PlanEntity, PlanVersionEntity, TrialEntity, type TrialRow } from "../../db/entities.ts";
import { changesBetween, type Tried } from "./changes.ts";
import type { VersionRepository } from "./versions.ts";

const MOST_TRIALS = 1000;

const NO_FIGURES = { netProfit: null, maxDrawdown: null, trades: null, sharpe: null };

/** What a walk-forward tries, in all of its windows together. */
type Walked = Pick<WalkForwardDetail, "id" | "planId" | "createdMs" | "source" | "variants" | "request" | "inputSpecs">;

export interface Ended {
  readonly status: string;
  readonly variants: number;
  /** Independent settings that they amount to, where their returns were kept. */
  readonly independent?: number | null;
}

/** Inputs as a run has them: what is not given is at its default. Settings that vary, under names with a dot, are none of them. */
const wholeInputs = (specs: readonly InputSpec[], given: InputValues): InputValues => ({
  ...Object.fromEntries(specs.filter(({ name }) => !name.includes(".")).map((spec) => [spec.name, spec.default])),
  ...given,
});

const trialOf = ({ inputs: _inputs, independent: _independent, ...trial }: TrialRow): Trial => trial;

/** Periods as the database joins them: "from/to,from/to". */
function periodsOf(text: string): { from: string; to: string }[] {
  return text.split(",").map((period) => {
    const [from, to] = period.split("/") as [string, string];
    return { from, to };
  });
}

/** A statement takes so many values at most. */
const ROWS_A_STATEMENT = 500;

export class Journal {
  readonly #database: Database;
  readonly #versions: VersionRepository;

  constructor(database: Database, versions: VersionRepository) {
    this.#database = database;
    this.#versions = versions;
  }

  /** Notes a run, with what was changed since the trial before it. */
  async ran({ id, planId, createdMs, source, inputs, settings, status, figures }: RunHead): Promise<void> {
    const { netProfit, maxDrawdown, trades, sharpe } = figures;
    await this.#note(
      { planId, createdMs, kind: "run", runId: id, variants: 1, status, netProfit, maxDrawdown, trades, sharpe },
      { source, inputs, settings },
    );
  }

  /** Notes a sweep that has begun, once for each of its instruments: how many settings it tries. */
  async swept(
    { id, planId, createdMs, source, variants: all, status, request, inputSpecs }: SweepDetail,
    symbols: readonly string[],
  ): Promise<void> {
    const { settings } = request;
    const inputs = wholeInputs(inputSpecs, request.inputs);
    const variants = Math.ceil(all / symbols.length);
    for (const symbol of symbols)
      await this.#note(
        { planId, createdMs, kind: "sweep", runId: id, variants, status, ...NO_FIGURES },
        { source, inputs, settings: { ...settings, symbol } },
      );
  }

  /** A sweep or walk-forward is over on an instrument, or left: how many settings it has really tried. */
  async ended(id: string, { status, variants, independent = null }: Ended, symbol: string): Promise<void> {
    await this.#database.write((manager) =>
      manager
        .createQueryBuilder()
        .update(TrialEntity)
        .set({ status, variants, independent: independent === null ? null : Math.min(independent, variants) })
        .where(`"runId" = :id AND json_extract("settings", '$.symbol') = :symbol`, { id, symbol })
        .execute(),
    );
  }

  /** Notes a walk-forward that has begun. */
  async walked({ id, planId, createdMs, source, variants, request, inputSpecs }: Walked): Promise<void> {
    await this.#note(
      { planId, createdMs, kind: "walk-forward", runId: id, variants, status: "running", ...NO_FIGURES },
      { source, inputs: wholeInputs(inputSpecs, request.inputs), settings: request.settings },
    );
  }

  /** Notes that the reserved stretch of a plan was opened, or that one was set apart. */
  async reserved({ id, source, inputs, settings }: PlanDetail, reservedFrom: string): Promise<void> {
    const before = await this.#lastOf(id);
    const noted = { source, inputs: before?.inputs ?? inputs, settings: before?.settings ?? settings };
    await this.#remark("reserve", id, noted, [reservedFrom ? `held out from ${reservedFrom} on` : "the holdout was released"]);
  }

  /** Notes that a watch works with another version of its plan from now on: both texts are kept. */
  async renewed(planId: string, watchName: string, before: Tried, now: Tried): Promise<void> {
    await this.#versions.keep(planId, { ...before, name: "" });
    await this.#remark("watch", planId, now, [`watch "${watchName}" renewed`, ...changesBetween(before, now)]);
  }

  /** Notes what each rule of a run's plan earns, in a line each. What is taken off is not chosen among: it is no trial. */
  async weighed({ planId, source, inputs, settings }: RunHead, lines: readonly string[]): Promise<void> {
    await this.#remark("rules", planId, { source, inputs, settings }, [...lines]);
  }

  /** Notes that a run's plan was run with others on one account: no trial, for its setting was chosen before. */
  async blended({ planId, source, inputs, settings }: RunHead, words: string): Promise<void> {
    await this.#remark("blend", planId, { source, inputs, settings }, [words]);
  }

  /** An entry that is no trial: nothing was chosen by it. */
  async #remark(
    kind: Exclude<TrialKind, "run" | "sweep" | "walk-forward">,
    planId: string,
    { source, inputs, settings }: Tried,
    changes: string[],
  ): Promise<void> {
    const version = await this.#versions.keep(planId, { source, inputs, settings, name: "" });
    const base = { planId, createdMs: Date.now(), kind, runId: "", variants: 0, independent: null, status: "", ...NO_FIGURES };
    await this.#database.write((manager) => manager.insert(TrialEntity, { ...base, versionId: version.id, inputs, settings, changes }));
  }

  /** The first day that a plan holds out; "" for none. */
  async reservedFrom(planId: string): Promise<string> {
    const plan = await this.#database.read.findOne(PlanEntity, { select: { id: true, reservedFrom: true }, where: { id: planId } });
    return plan?.reservedFrom ?? "";
  }

  /**
   * Keeps runs out of the stretch that a plan has reserved.
   * @throws PlanTesterError conflict when a period reaches into it.
   */
  async refuseReserved(planId: string, to: string): Promise<void> {
    const reservedFrom = await this.reservedFrom(planId);
    if (reservedFrom && to >= reservedFrom)
      throw new PlanTesterError(
        "conflict",
        `The period ends on ${to} and reaches into the holdout, from ${reservedFrom} on. End it earlier, or release the holdout on purpose.`,
        { reservedFrom },
      );
  }

  /** What is known of the history that a plan has been tried on: counted over all that was ever tried, not over a list of it. */
  async context(planId: string): Promise<TrialContext> {
    // Case: the same again - text, inputs and settings - is no further trial, whatever its period.
    const distinct = `SELECT "kind", max("id") AS "id", max("variants") AS "variants", max(coalesce("independent", "variants")) AS "independent", json_extract("settings", '$.symbol') AS "symbol",
      json_extract("settings", '$.from') AS "from", json_extract("settings", '$.to') AS "to", "versionId", "inputs",
      json_remove("settings", '$.from', '$.to') AS "rest", CASE "kind" WHEN 'walk-forward' THEN "runId" ELSE '' END AS "walkForwardId"
      FROM "trial" WHERE "planId" = ? AND "kind" NOT IN ('reserve', 'watch', 'rules', 'blend') GROUP BY "kind", "versionId", "inputs", "settings", "walkForwardId"`;
    const stretches = await this.#database.read.query<TrialContext["stretches"]>(
      `SELECT "kind", "symbol", "from", "to", sum("variants") AS "variants" FROM (${distinct}) GROUP BY 1, 2, 3, 4 ORDER BY max("id") DESC`,
      [planId],
    );
    const tried = await this.#database.read.query<(Omit<TrialContext["tried"][number], "periods"> & { readonly periods: string })[]>(
      `SELECT "kind", "symbol", "periods", "walkForwardId", sum("variants") AS "variants", sum("independent") AS "independent" FROM (
        SELECT "kind", "symbol", "walkForwardId", max("variants") AS "variants", max("independent") AS "independent", group_concat("from" || '/' || "to") AS "periods"
        FROM (SELECT * FROM (${distinct}) ORDER BY "from", "to") GROUP BY "kind", "versionId", "inputs", "rest", "walkForwardId"
      ) GROUP BY "kind", "symbol", "periods", "walkForwardId"`,
      [planId],
    );
    return {
      trials: tried.reduce((sum, { variants }) => sum + variants, 0),
      tried: tried.map(({ periods, ...rest }) => ({ ...rest, periods: periodsOf(periods) })),
      stretches,
      reservedFrom: await this.reservedFrom(planId),
    };
  }

  async #note(trial: Omit<TrialRow, "id" | "versionId" | "inputs" | "settings" | "changes" | "independent">, tried: Tried): Promise<void> {
    const before = await this.#lastOf(trial.planId);
    const version = await this.#versions.keep(trial.planId, { ...tried, name: "" });
    const row = {
      ...trial,
      independent: null,
      versionId: version.id,
      inputs: tried.inputs,
      settings: tried.settings,
      changes: changesBetween(before, tried),
    };
    await this.#database.write((manager) => manager.insert(TrialEntity, row));
  }

  /** The last thing tried with a plan. */
  async #lastOf(planId: string): Promise<Tried | null> {
    const [last] = await this.#database.read.find(TrialEntity, {
      where: { planId, kind: Not(In(["watch", "rules", "blend"])) },
      order: { id: "DESC" },
      take: 1,
    });
    if (!last) return null;
    const version = await this.#database.read.findOneBy(PlanVersionEntity, { id: last.versionId });
    return { source: version?.source ?? "", inputs: last.inputs, settings: last.settings };
  }

  /** Every trial of a plan as it is kept, the oldest first. */
  all(planId: string): Promise<TrialRow[]> {
    return this.#database.read.find(TrialEntity, { where: { planId }, order: { id: "ASC" } });
  }

  /** Trials that were made elsewhere with what is a plan here now: they count as before. */
  async takeIn(planId: string, trials: readonly Omit<TrialRow, "id" | "planId">[]): Promise<void> {
    await this.#database.write(async (manager) => {
      for (let from = 0; from < trials.length; from += ROWS_A_STATEMENT)
        await manager.insert(
          TrialEntity,
          trials.slice(from, from + ROWS_A_STATEMENT).map((trial) => ({ ...trial, planId })),
        );
    });
  }

  /** The last trials of a plan, newest first. */
  async trials(planId: string): Promise<Trial[]> {
    return (await this.#database.read.find(TrialEntity, { where: { planId }, order: { id: "DESC" }, take: MOST_TRIALS })).map(trialOf);
  }
}
