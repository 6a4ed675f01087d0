import { type EventsQuery, levelsFrom, type WatchEvent, type WatchEventsPage } from "@plan-tester/contract";
import type { DriftMark, Trade } from "@plan-tester/core";
import { In, Like, MoreThan, MoreThanOrEqual, Not, Raw } from "typeorm";
import type { Database } from "../../db/database.ts";
import { WatchEntity, WatchEventEntity, type WatchRow, WatchTradeEntity } from "../../db/entities.ts";

/** What closed trades come to. */
export interface TradeSums {
  readonly count: number;
  readonly net: number;
}

/** A trade, and the number of the venue's report that told it. */
export interface ToldTrade {
  readonly trade: Trade;
  readonly report: number;
}

export class WatchRepository {
  readonly #database: Database;

  constructor(database: Database) {
    this.#database = database;
  }

  list(): Promise<WatchRow[]> {
    return this.#database.read.find(WatchEntity, { order: { createdMs: "DESC" } });
  }

  find(id: string): Promise<WatchRow | null> {
    return this.#database.read.findOneBy(WatchEntity, { id });
  }

  insert(row: WatchRow): Promise<unknown> {
    return this.#database.write((manager) => manager.insert(WatchEntity, row));
  }

  update(id: string, change: Partial<WatchRow>): Promise<unknown> {
    return this.#database.write((manager) => manager.update(WatchEntity, { id }, change));
  }

  delete(id: string): Promise<unknown> {
    return this.#database.write((manager) => manager.delete(WatchEntity, { id }));
  }

  async events(watchId: string, { offset, limit, kind, search, level }: EventsQuery): Promise<WatchEventsPage> {
    const where = {
      watchId,
      ...(kind && { kind }),
      ...(level && { level: In([...levelsFrom(level)]) }),
      ...(search && { text: Raw((text) => `instr(lower(${text}), lower(:search)) > 0`, { search }) }),
    };
    const [rows, total] = await this.#database.read.findAndCount(WatchEventEntity, {
      where,
      order: { id: "DESC" },
      skip: offset,
      take: limit,
    });
    return { total, events: rows.map(({ watchId: _watch, ...event }) => event) };
  }

  /**
   * What happened, the trades that closed with it, and what is remembered since: all of it or nothing.
   * @param lostAfter trades that later reports told are struck out first; null where there are none
   */
  record(
    watchId: string,
    events: readonly Omit<WatchEvent, "id">[],
    trades: readonly ToldTrade[],
    row: Partial<WatchRow>,
    lostAfter: number | null,
  ): Promise<unknown> {
    return this.#database.write((manager) =>
      manager.transaction(async (inside) => {
        if (lostAfter !== null) await inside.delete(WatchTradeEntity, { watchId, report: MoreThan(lostAfter) });
        if (events.length > 0)
          await inside.insert(
            WatchEventEntity,
            events.map((event) => ({ ...event, watchId })),
          );
        if (trades.length > 0)
          await inside.insert(
            WatchTradeEntity,
            trades.map(({ trade, report }) => ({ watchId, exitMs: trade.exitTime, net: trade.net, trade, report })),
          );
        if (Object.keys(row).length > 0) await inside.update(WatchEntity, { id: watchId }, row);
      }),
    );
  }

  /** Trades that closed at or after a time, oldest first. */
  async trades(watchId: string, fromMs = 0): Promise<Trade[]> {
    const where = { watchId, exitMs: MoreThanOrEqual(fromMs) };
    const rows = await this.#database.read.find(WatchTradeEntity, { where, order: { id: "ASC" } });
    return rows.map(({ trade }) => trade);
  }

  /** What explains differences, oldest first. */
  async marks(watchId: string): Promise<DriftMark[]> {
    const rows = await this.#database.read.find(WatchEventEntity, {
      select: { timeMs: true, cause: true },
      ...{ where: { watchId, cause: Not("") }, order: { id: "ASC" } },
    });
    return rows.map(({ timeMs, cause }) => ({ timeMs, cause: cause as DriftMark["cause"] }));
  }

  /** When the plan last asked for something at the venue, of its clock; null where it never has. */
  async lastOrderMs(watchId: string): Promise<number | null> {
    const where = { watchId, kind: "order" as const, by: Like("plan%") };
    const last = await this.#database.read.findOne(WatchEventEntity, { select: { timeMs: true }, where, order: { id: "DESC" } });
    return last?.timeMs ?? null;
  }

  /** Times of the first and the last entry of a journal, of the venue's clock; null where it is empty. */
  async span(watchId: string): Promise<{ readonly firstMs: number; readonly lastMs: number } | null> {
    const ends = (order: "ASC" | "DESC") =>
      this.#database.read.findOne(WatchEventEntity, { select: { timeMs: true }, where: { watchId }, order: { id: order } });
    const [first, last] = [await ends("ASC"), await ends("DESC")];
    return first && last ? { firstMs: first.timeMs, lastMs: last.timeMs } : null;
  }

  /** Sums of the trades of each watch. */
  async sums(): Promise<ReadonlyMap<string, TradeSums>> {
    const rows: { watchId: string; count: number; net: number }[] = await this.#database.read.query(
      `SELECT "watchId", count(*) AS "count", sum("net") AS "net" FROM "watch_trade" GROUP BY "watchId"`,
    );
    return new Map(rows.map(({ watchId, count, net }) => [watchId, { count, net }]));
  }
}
