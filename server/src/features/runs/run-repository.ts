/** Kept runs: a light row for lists, and compressed parts that only an opened run needs. Of drafts, the last of each plan. */
import type { Facet, RunEvidence, RunFacets, RunHead, RunPage, RunQuery, RunSummary } from "@plan-tester/contract";
import { Brackets, In, MoreThan } from "typeorm";
import type { Database } from "../../db/database.ts";
import { readBack, writtenDown } from "../../db/documents/documents.ts";
import { DraftRunEntity, RunEntity, type RunRow } from "../../db/entities.ts";
import { RunParts } from "./run-parts.ts";

/** A run, what grows with it as pieces of bytes: JSON text of its trades and of its orders and fills, and packed columns. */
export interface WholeRun {
  readonly head: RunHead;
  readonly trades: readonly Uint8Array[];
  readonly orders: readonly Uint8Array[];
  readonly columns: readonly Uint8Array[];
}

/** Head and trades as pieces of the JSON text of the evidence. */
export const evidencePieces = (head: RunHead, trades: readonly Uint8Array[]): Uint8Array[] => [
  Buffer.from(`${JSON.stringify(head).slice(0, -1)},"trades":`),
  ...trades,
  Buffer.from("}"),
];

/** What lists show of it. */
function summaryOf(row: RunRow): RunSummary {
  const { symbol: _symbol, timeframe: _timeframe, deletedMs: _deleted, isNamed: _named, comparedMs: _compared, ...summary } = row;
  return summary;
}

/** A pattern for LIKE that finds a text anywhere, its own wildcards taken as they are. */
const like = (text: string): string => `%${text.replace(/[\\%_]/g, "\\$&")}%`;

export class RunRepository {
  readonly #database: Database;
  readonly #parts: RunParts;

  constructor(database: Database) {
    this.#database = database;
    this.#parts = new RunParts(database);
  }

  /** One page of what a query finds, and how many there are in all. */
  async list({ search, plan, symbol, tag, batch, sort, order, offset, limit }: Required<RunQuery>): Promise<RunPage> {
    const query = this.#database.read.createQueryBuilder(RunEntity, "run").where("run.deletedMs = 0");
    for (const [column, value] of Object.entries({ planId: plan, symbol, batch }))
      if (value) query.andWhere(`run.${column} = :${column}`, { [column]: value });
    if (tag) query.andWhere("run.tags LIKE :tag ESCAPE '\\'", { tag: like(JSON.stringify(tag)) });
    for (const [k, word] of search.split(/\s+/).filter(Boolean).entries())
      query.andWhere(
        new Brackets((either) => {
          for (const column of ["name", "planTitle", "symbol", "note", "tags"]) either.orWhere(`run.${column} LIKE :word${k} ESCAPE '\\'`);
        }),
        { [`word${k}`]: like(word) },
      );
    const total = await query.getCount();
    const rows = await query
      .orderBy(`run.${sort}`, order === "down" ? "DESC" : "ASC")
      .addOrderBy("run.id", "DESC")
      .offset(offset)
      .limit(limit)
      .getMany();
    return { total, runs: rows.map(summaryOf) };
  }

  async some(ids: readonly string[]): Promise<RunSummary[]> {
    return (await this.#database.read.findBy(RunEntity, { id: In([...ids]), deletedMs: 0 })).map(summaryOf);
  }

  /** Plans, instruments and tags of the kept runs, each with how many there are. */
  async facets(): Promise<RunFacets> {
    const read = this.#database.read;
    const counted = async (column: string, label: string): Promise<Facet[]> =>
      (
        await read.query<{ value: string; label: string; runs: number }[]>(
          `SELECT "${column}" AS value, max("${label}") AS label, count(*) AS runs FROM "run" WHERE "deletedMs" = 0 GROUP BY "${column}" ORDER BY label`,
        )
      ).map((facet) => ({ ...facet }));
    const tags = await read.query<{ value: string; runs: number }[]>(
      `SELECT tag.value AS value, count(*) AS runs FROM "run", json_each("run"."tags") AS tag WHERE "deletedMs" = 0 GROUP BY tag.value ORDER BY tag.value`,
    );
    return {
      plans: await counted("planId", "planTitle"),
      symbols: await counted("symbol", "symbol"),
      tags: tags.map(({ value, runs }) => ({ value, label: value, runs })),
    };
  }

  /** The last run that was made as one: a stitched curve has no single setting to open a Bench with. */
  async lastOfEachPlan(): Promise<Map<string, RunSummary>> {
    const rows = await this.#database.read.query<{ id: string }[]>(
      `SELECT "id", max("createdMs") FROM "run" WHERE "walkForwardId" = '' AND "deletedMs" = 0 GROUP BY "planId"`,
    );
    return new Map((await this.some(rows.map(({ id }) => id))).map((run) => [run.planId, run]));
  }

  /** @param whole null where it has been written down already, as a draft. */
  async insert(summary: RunSummary, whole: WholeRun | null, isNamed: boolean): Promise<void> {
    const { symbol, timeframe } = summary.settings;
    const row: RunRow = { ...summary, symbol, timeframe, isNamed, comparedMs: 0, deletedMs: 0 };
    const draft = await this.#database.read.findOneBy(DraftRunEntity, { runId: summary.id });
    // A draft has been written down already.
    if (!draft && whole) await this.#write(whole);
    await this.#database.write(async (manager) => {
      // One of the same id may be in the bin: the demo world is made again.
      await manager.delete(RunEntity, { id: summary.id, deletedMs: MoreThan(0) });
      await manager.insert(RunEntity, row);
    });
  }

  #write({ head, trades, orders, columns }: WholeRun): Promise<void> {
    return this.#parts.write(head.id, { head: [Buffer.from(writtenDown("run head", head))], trades, orders, columns });
  }

  /** Writes down the last draft of a plan, in place of the one before it. */
  async saveDraft(whole: WholeRun): Promise<void> {
    const { id, planId } = whole.head;
    const before = await this.#database.read.findOneBy(DraftRunEntity, { planId });
    await this.#write(whole);
    await this.#database.write((manager) => manager.upsert(DraftRunEntity, { planId, runId: id }, ["planId"]));
    if (before && !(await this.#database.read.existsBy(RunEntity, { id: before.runId }))) await this.#parts.remove(before.runId);
  }

  /** The id of the last draft of a plan that was written down. */
  async lastDraft(planId: string): Promise<string | null> {
    return (await this.#database.read.findOneBy(DraftRunEntity, { planId }))?.runId ?? null;
  }

  /** Removes what nothing leads to any longer: drafts of plans that are gone, and parts of runs that are gone. */
  async removeOrphans(): Promise<void> {
    await this.#database.write((manager) => manager.query(`DELETE FROM "draft_run" WHERE "planId" NOT IN (SELECT "id" FROM "plan")`));
    await this.#parts.removeOrphans();
  }

  async rename(id: string, name: string, note: string, tags: readonly string[]): Promise<void> {
    await this.#database.write((manager) => manager.update(RunEntity, { id }, { name, note, tags: [...tags], isNamed: true }));
  }

  /** A kept run or a draft that was written down, with its name of today. */
  async head(id: string): Promise<RunHead | null> {
    const text = await this.#parts.read(id, "head");
    return text && { ...readBack<RunHead>("run head", Buffer.concat(text).toString()), kept: await this.#keptAs(id) };
  }

  async #keptAs(id: string): Promise<RunEvidence["kept"]> {
    const row = await this.#database.read.findOneBy(RunEntity, { id, deletedMs: 0 });
    return row && { name: row.name, note: row.note, tags: row.tags };
  }

  /** Pieces of one part as they were written down; null when there is none. */
  part(id: string, which: "orders" | "columns"): Promise<Uint8Array[] | null> {
    return this.#parts.read(id, which);
  }

  /** The evidence as pieces of one JSON text. */
  async evidenceText(id: string): Promise<Uint8Array[] | null> {
    const trades = await this.#parts.read(id, "trades");
    return trades && evidencePieces((await this.head(id))!, trades);
  }

  /** Whether it was kept once and is in the bin now: then nothing of it is shown. */
  isDeleted(id: string): Promise<boolean> {
    return this.#database.read.existsBy(RunEntity, { id, deletedMs: MoreThan(0) });
  }

  /** Notes that they were set side by side: no rule clears them then. */
  async compared(ids: readonly string[], nowMs: number): Promise<void> {
    await this.#database.write((manager) => manager.update(RunEntity, { id: In([...ids]) }, { comparedMs: nowMs }));
  }

  /** For good. */
  async delete(id: string): Promise<boolean> {
    const { affected } = await this.#database.write((manager) => manager.delete(RunEntity, { id }));
    if (affected !== 1) return false;
    await this.#parts.remove(id);
    return true;
  }
}
