import type { WatchEvent } from "@plan-tester/contract";
import type { Database } from "../../db/database.ts";
import { WatchEntity, WatchEventEntity, type WatchRow } from "../../db/entities.ts";

export class WatchRepository {
  readonly #database: Database;

  constructor(database: Database) {
    this.#database = database;
  }

  list(): Promise<WatchRow[]> {
    return this.#database.read.find(WatchEntity, { order: { createdMs: "DESC" } });
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

  addEvents(watchId: string, events: readonly Omit<WatchEvent, "id">[]): Promise<unknown> {
    return this.#database.write((manager) =>
      manager.insert(
        WatchEventEntity,
        events.map((event) => ({ ...event, watchId })),
      ),
    );
  }

  async events(watchId: string, most: number): Promise<WatchEvent[]> {
    const rows = await this.#database.read.find(WatchEventEntity, { where: { watchId }, order: { id: "DESC" }, take: most });
    return rows.map(({ id, timeMs, kind, text }) => ({ id, timeMs, kind, text }));
  }
}
