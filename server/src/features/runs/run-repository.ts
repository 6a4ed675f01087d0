/** Kept runs: a light row for lists, and a body of compressed parts that only an opened run needs. */
import { promisify } from "node:util";
import { deflateRaw, inflateRaw } from "node:zlib";
import type { Facet, RunEvidence, RunFacets, RunOrders, RunPage, RunQuery, RunSummary } from "@plan-tester/contract";
import { Brackets, In } from "typeorm";
import type { Database } from "../../db/database.ts";
import { RunBodyEntity, RunEntity, type RunRow } from "../../db/entities.ts";

const deflate = promisify(deflateRaw);
const inflate = promisify(inflateRaw);

/** A run with its orders and its packed columns. */
export interface WholeRun {
  readonly evidence: RunEvidence;
  readonly orders: RunOrders;
  readonly columns: Uint8Array;
}

/** What earlier versions did not write down. */
const NOT_WRITTEN = { resultHash: "", notes: [], ownFigures: [], slips: [] };

function summaryOf({ symbol: _symbol, timeframe: _timeframe, ...row }: RunRow): RunSummary {
  return {
    ...row,
    settings: JSON.parse(row.settings),
    status: row.status as RunSummary["status"],
    spark: JSON.parse(row.spark),
    tags: JSON.parse(row.tags),
  };
}

/** A pattern for LIKE that finds a text anywhere, its own wildcards taken as they are. */
const like = (text: string): string => `%${text.replace(/[\\%_]/g, "\\$&")}%`;

export class RunRepository {
  readonly #database: Database;

  constructor(database: Database) {
    this.#database = database;
  }

  /** One page of what a query finds, and how many there are in all. */
  async list({ search, plan, symbol, tag, batch, sort, order, offset, limit }: Required<RunQuery>): Promise<RunPage> {
    const query = this.#database.read.createQueryBuilder(RunEntity, "run");
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
    return (await this.#database.read.findBy(RunEntity, { id: In([...ids]) })).map(summaryOf);
  }

  /** Plans, instruments and tags of the kept runs, each with how many there are. */
  async facets(): Promise<RunFacets> {
    const read = this.#database.read;
    const counted = async (column: string, label: string): Promise<Facet[]> =>
      (
        await read.query<{ value: string; label: string; runs: number }[]>(
          `SELECT "${column}" AS value, max("${label}") AS label, count(*) AS runs FROM "run" GROUP BY "${column}" ORDER BY label`,
        )
      ).map((facet) => ({ ...facet }));
    const tags = await read.query<{ value: string; runs: number }[]>(
      `SELECT tag.value AS value, count(*) AS runs FROM "run", json_each("run"."tags") AS tag GROUP BY tag.value ORDER BY tag.value`,
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
      `SELECT "id", max("createdMs") FROM "run" WHERE "walkForwardId" = '' GROUP BY "planId"`,
    );
    return new Map((await this.some(rows.map(({ id }) => id))).map((run) => [run.planId, run]));
  }

  async insert(summary: RunSummary, whole: WholeRun): Promise<void> {
    const { symbol, timeframe } = summary.settings;
    const row: RunRow = {
      ...summary,
      symbol,
      timeframe,
      settings: JSON.stringify(summary.settings),
      spark: JSON.stringify(summary.spark),
      tags: JSON.stringify(summary.tags),
    };
    const [evidence, orders, columns] = await Promise.all([
      deflate(JSON.stringify(whole.evidence)),
      deflate(JSON.stringify(whole.orders)),
      deflate(whole.columns, { level: 1 }),
    ]);
    await this.#database.write(async (manager) => {
      await manager.insert(RunEntity, row);
      await manager.insert(RunBodyEntity, { runId: summary.id, evidence, orders, columns });
    });
  }

  async rename(id: string, name: string, note: string, tags: readonly string[]): Promise<void> {
    await this.#database.write((manager) => manager.update(RunEntity, { id }, { name, note, tags: JSON.stringify(tags) }));
  }

  async find(id: string): Promise<WholeRun | null> {
    const row = await this.#database.read.findOneBy(RunEntity, { id });
    const body = row && (await this.#database.read.findOneBy(RunBodyEntity, { runId: id }));
    if (!row || !body) return null;
    const [evidence, orders, columns] = await Promise.all([inflate(body.evidence), inflate(body.orders), inflate(body.columns)]);
    return {
      evidence: {
        ...NOT_WRITTEN,
        ...(JSON.parse(evidence.toString()) as RunEvidence),
        kept: { name: row.name, note: row.note, tags: JSON.parse(row.tags) },
      },
      orders: JSON.parse(orders.toString()) as RunOrders,
      columns,
    };
  }

  /** One part of a kept run as it was written down, without taking it apart; null when there is none. */
  async part(id: string, which: "evidence" | "orders" | "columns"): Promise<Buffer | null> {
    const body = await this.#database.read.findOne(RunBodyEntity, { select: { runId: true, [which]: true }, where: { runId: id } });
    return body && inflate(body[which]);
  }

  /** The evidence of a kept run as JSON text, with its name of today. */
  async evidenceText(id: string): Promise<string | null> {
    const row = await this.#database.read.findOneBy(RunEntity, { id });
    const text = row && (await this.part(id, "evidence"))?.toString();
    if (!row || !text) return null;
    const kept = { name: row.name, note: row.note, tags: JSON.parse(row.tags) };
    // Of two fields of one name the later counts: what was not written down stands first, what has changed since last.
    return `${JSON.stringify(NOT_WRITTEN).slice(0, -1)},${text.slice(1, -1)},"kept":${JSON.stringify(kept)}}`;
  }

  async delete(id: string): Promise<boolean> {
    return (await this.#database.write((manager) => manager.delete(RunEntity, { id }))).affected === 1;
  }
}
