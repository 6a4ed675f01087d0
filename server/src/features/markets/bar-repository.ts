/** Bars in the database: one set for each instrument, in chunks of columns. */
import { setImmediate as breathe } from "node:timers/promises";
import type { HistoryThumbnail } from "@plan-tester/contract";
import { BAR_COLUMNS, type BarColumns, type BarSeries, type Instrument, PlanTesterError, type Repair } from "@plan-tester/core";
import { inSharedMemory, sharedColumn } from "@plan-tester/runner";
import { type EntityManager, Not } from "typeorm";
import type { Database } from "../../db/database.ts";
import { BarChunkEntity, BarSetEntity, type BarSetRow, InstrumentEntity } from "../../db/entities.ts";
import type { WorkThread } from "../../work/work-thread.ts";

/** A write of so many takes a few milliseconds. Earlier versions wrote larger ones. */
const CHUNK_BARS = 16_384;

export class BarRepository {
  readonly #database: Database;
  readonly #thread: WorkThread;

  constructor(database: Database, thread: WorkThread) {
    this.#database = database;
    this.#thread = thread;
  }

  setOf(symbol: string): Promise<BarSetRow | null> {
    return this.#database.read.findOneBy(BarSetEntity, { symbol, isComplete: true });
  }

  async keepThumbnail(id: number, thumbnail: HistoryThumbnail): Promise<void> {
    await this.#database.write((manager) => manager.update(BarSetEntity, { id }, { thumbnail }));
  }

  allSets(): Promise<BarSetRow[]> {
    return this.#database.read.findBy(BarSetEntity, { isComplete: true });
  }

  /**
   * Puts the bars of an instrument in place of any it had. Each chunk is a write of its own; the set counts when all are
   * there, and in the same transaction `andThen` is written.
   */
  async replace(
    symbol: string,
    timeframe: string,
    given: BarColumns,
    andThen: (manager: EntityManager) => Promise<unknown> = async () => undefined,
  ): Promise<void> {
    const columns = inSharedMemory(given);
    const names = BAR_COLUMNS.filter((name) => columns[name] !== undefined);
    const count = columns.time.length;
    const facts = {
      ...{ symbol, timeframe, count, firstMs: columns.time[0]!, lastMs: columns.time[count - 1]!, hash: "" },
      ...{ hasSpread: columns.spread !== undefined, createdMs: Date.now(), isComplete: false, thumbnail: null, repairedHash: "" },
    };
    // Worked out while the chunks are written.
    const hashing = this.#thread.hash(columns);
    hashing.catch(() => undefined);
    const set = await this.#database.write((manager) => manager.save(BarSetEntity, facts));
    let before: BarSetRow[];
    try {
      for (let start = 0, seq = 0; start < count; start += CHUNK_BARS, seq++) {
        const end = Math.min(count, start + CHUNK_BARS);
        const data = Buffer.allocUnsafe((end - start) * 8 * names.length);
        names.forEach((name, i) => {
          const part = columns[name]!.subarray(start, end);
          data.set(new Uint8Array(part.buffer, part.byteOffset, part.byteLength), i * (end - start) * 8);
        });
        const row = { barSetId: set.id, seq, count: end - start, data };
        await this.#database.write((manager) => manager.insert(BarChunkEntity, row));
        await breathe();
      }
      before = await this.#complete({ id: set.id, symbol, hash: await hashing }, andThen);
    } catch (error) {
      // What can't be removed now is at the next start.
      await this.#remove(set.id).catch(() => undefined);
      throw error;
    }
    for (const { id } of before) await this.#remove(id);
  }

  /** A set whose chunks are all there takes the place of those before it. @returns those */
  async #complete(
    { id, symbol, hash }: Pick<BarSetRow, "id" | "symbol" | "hash">,
    andThen: (manager: EntityManager) => Promise<unknown>,
  ): Promise<BarSetRow[]> {
    const before = await this.#database.read.findBy(BarSetEntity, { symbol, id: Not(id) });
    await this.#database.write(async (manager) => {
      for (const one of before) await manager.update(BarSetEntity, { id: one.id }, { isComplete: false });
      await manager.update(BarSetEntity, { id }, { hash, isComplete: true });
      await andThen(manager);
    });
    return before;
  }

  async #remove(id: number): Promise<void> {
    const chunks = await this.#database.read.find(BarChunkEntity, { select: { id: true }, where: { barSetId: id } });
    for (const chunk of chunks) {
      await this.#database.write((manager) => manager.delete(BarChunkEntity, { id: chunk.id }));
      await breathe();
    }
    await this.#database.write((manager) => manager.delete(BarSetEntity, { id }));
  }

  async removeAll(symbol: string): Promise<void> {
    for (const { id } of await this.#database.read.findBy(BarSetEntity, { symbol })) await this.#remove(id);
  }

  /** Removes an instrument with its bars. */
  async removeInstrument(symbol: string): Promise<void> {
    await this.removeAll(symbol);
    await this.#database.write((manager) => manager.delete(InstrumentEntity, { symbol }));
  }

  /** Removes what a server that was cut off left behind: sets that never became complete, and instruments that were made for them. */
  async removeIncomplete(): Promise<void> {
    for (const { id } of await this.#database.read.findBy(BarSetEntity, { isComplete: false })) await this.#remove(id);
    await this.#database.write((manager) =>
      manager.query(`DELETE FROM "instrument" WHERE "symbol" NOT IN (SELECT "symbol" FROM "bar_set")`),
    );
  }

  /** Bars as they are stored, in shared memory. */
  async columns(set: BarSetRow): Promise<BarColumns> {
    const names = set.hasSpread ? BAR_COLUMNS : BAR_COLUMNS.slice(0, 6);
    const columns = names.map(() => sharedColumn(set.count));
    for (let at = 0, seq = 0; at < set.count; seq++) {
      const chunk = await this.#database.read.findOneBy(BarChunkEntity, { barSetId: set.id, seq });
      if (!chunk)
        throw new PlanTesterError(
          "bad-bars",
          `Bars of ${set.symbol} are missing in the database from number ${at} on. Import them again.`,
          {},
        );
      const { count, data } = chunk;
      names.forEach((_name, i) => {
        const bytes = data.buffer.slice(data.byteOffset + i * count * 8, data.byteOffset + (i + 1) * count * 8);
        columns[i]!.set(new Float64Array(bytes), at);
      });
      at += count;
      await breathe();
    }
    const [time, open, high, low, close, volume, spread] = columns;
    return { time: time!, open: open!, high: high!, low: low!, close: close!, volume: volume!, spread };
  }

  /** @param repairs that are laid over the bars. @returns their hash too */
  async load(
    set: BarSetRow,
    { calendar }: Instrument,
    repairs: readonly Repair[],
  ): Promise<{ readonly series: BarSeries; readonly hash: string }> {
    const { timeframe, hash } = set;
    const columns = await this.columns(set);
    if (repairs.length > 0) return this.#thread.repair({ columns, timeframe, calendar, repairs });
    return { series: await this.#thread.series({ columns, timeframe, calendar }), hash };
  }
}
