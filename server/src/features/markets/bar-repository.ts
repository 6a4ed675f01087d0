/** Bars in the database: one set for each instrument, in chunks of columns. */
import { type BarColumns, type BarSeries, type Instrument, makeSeries } from "@plan-tester/core";
import { hashBars } from "@plan-tester/runner";
import type { EntityManager } from "typeorm";
import type { Database } from "../../db/database.ts";
import { BarChunkEntity, BarSetEntity, type BarSetRow } from "../../db/entities.ts";

const CHUNK_BARS = 65_536;
const NAMES = ["time", "open", "high", "low", "close", "volume", "spread"] as const;

export class BarRepository {
  readonly #database: Database;

  constructor(database: Database) {
    this.#database = database;
  }

  setOf(symbol: string): Promise<BarSetRow | null> {
    return this.#database.read.findOneBy(BarSetEntity, { symbol });
  }

  allSets(): Promise<BarSetRow[]> {
    return this.#database.read.find(BarSetEntity);
  }

  /** Puts the bars of an instrument in place of any it had. */
  async replace(manager: EntityManager, symbol: string, timeframe: string, columns: BarColumns): Promise<void> {
    const names = NAMES.filter((name) => columns[name] !== undefined);
    const count = columns.time.length;
    await manager.delete(BarSetEntity, { symbol });
    const set = await manager.save(BarSetEntity, {
      symbol,
      timeframe,
      count,
      firstMs: columns.time[0]!,
      lastMs: columns.time[count - 1]!,
      hash: hashBars(columns),
      hasSpread: columns.spread !== undefined,
      createdMs: Date.now(),
    });
    for (let start = 0, seq = 0; start < count; start += CHUNK_BARS, seq++) {
      const end = Math.min(count, start + CHUNK_BARS);
      const data = Buffer.allocUnsafe((end - start) * 8 * names.length);
      names.forEach((name, i) => {
        const part = columns[name]!.subarray(start, end);
        data.set(new Uint8Array(part.buffer, part.byteOffset, part.byteLength), i * (end - start) * 8);
      });
      await manager.insert(BarChunkEntity, { barSetId: set.id, seq, count: end - start, data });
    }
  }

  async load(set: BarSetRow, instrument: Instrument): Promise<BarSeries> {
    const names = set.hasSpread ? NAMES : NAMES.slice(0, 6);
    const columns = names.map(() => new Float64Array(set.count));
    const chunks = await this.#database.read.find(BarChunkEntity, { where: { barSetId: set.id }, order: { seq: "ASC" } });
    let at = 0;
    for (const { count, data } of chunks) {
      names.forEach((_name, i) => {
        const bytes = data.buffer.slice(data.byteOffset + i * count * 8, data.byteOffset + (i + 1) * count * 8);
        columns[i]!.set(new Float64Array(bytes), at);
      });
      at += count;
    }
    const [time, open, high, low, close, volume, spread] = columns;
    return makeSeries(
      { time: time!, open: open!, high: high!, low: low!, close: close!, volume: volume!, spread },
      set.timeframe,
      instrument.calendar,
    );
  }
}
