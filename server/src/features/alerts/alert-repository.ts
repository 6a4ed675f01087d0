import type { AlertCounts, AlertDelivery, AlertSetup, DeliveriesPage, DeliveriesQuery } from "@plan-tester/contract";
import { LessThan } from "typeorm";
import type { Database } from "../../db/database.ts";
import { AlertDeliveryEntity, type AlertDeliveryRow, AlertSecretEntity, WorkspaceEntity } from "../../db/entities.ts";

const NAME = "alerts";

export type NewDelivery = Omit<AlertDeliveryRow, "id">;

export class AlertRepository {
  readonly #database: Database;

  constructor(database: Database) {
    this.#database = database;
  }

  async setup(): Promise<AlertSetup | null> {
    const row = await this.#database.read.findOneBy(WorkspaceEntity, { name: NAME });
    return row ? (JSON.parse(row.value) as AlertSetup) : null;
  }

  /** Secrets of channels that are gone go with them. */
  async save(setup: AlertSetup): Promise<void> {
    const kept = new Set(setup.channels.map(({ id }) => id));
    await this.#database.write(async (manager) => {
      await manager.upsert(WorkspaceEntity, { name: NAME, value: JSON.stringify(setup) }, ["name"]);
      for (const { channelId } of await manager.find(AlertSecretEntity))
        if (!kept.has(channelId)) await manager.delete(AlertSecretEntity, { channelId });
    });
  }

  async secrets(): Promise<Map<string, string>> {
    const rows = await this.#database.read.find(AlertSecretEntity);
    return new Map(rows.map(({ channelId, secret }) => [channelId, secret]));
  }

  setSecret(channelId: string, secret: string): Promise<unknown> {
    return this.#database.write((manager) =>
      secret ? manager.upsert(AlertSecretEntity, { channelId, secret }, ["channelId"]) : manager.delete(AlertSecretEntity, { channelId }),
    );
  }

  async insert(rows: readonly NewDelivery[]): Promise<AlertDeliveryRow[]> {
    return this.#database.write(async (manager) => {
      const { identifiers } = await manager.insert(AlertDeliveryEntity, [...rows]);
      return rows.map((row, k) => ({ ...row, id: Number(identifiers[k]!.id) }));
    });
  }

  update(id: number, change: Partial<AlertDelivery>): Promise<unknown> {
    return this.#database.write((manager) => manager.update(AlertDeliveryEntity, { id }, change));
  }

  /** Deliveries of each watch by what became of them. */
  async counts(): Promise<Map<string, AlertCounts>> {
    const rows: (AlertCounts & { readonly watchId: string })[] = await this.#database.read.query(
      `SELECT "watchId", sum("state" = 'sent') AS "sent", sum("state" IN ('failed', 'left out')) AS "failed"
       FROM "alert_delivery" WHERE "event" <> 'test' GROUP BY "watchId"`,
    );
    return new Map(rows.map(({ watchId, sent, failed }) => [watchId, { sent, failed }]));
  }

  async waiting(): Promise<AlertDeliveryRow[]> {
    return this.#database.read.find(AlertDeliveryEntity, { where: { state: "waiting" }, order: { id: "ASC" } });
  }

  async page({ offset, limit, watchId, state }: DeliveriesQuery): Promise<DeliveriesPage> {
    const [rows, total] = await this.#database.read.findAndCount(AlertDeliveryEntity, {
      where: { ...(watchId && { watchId }), ...(state && { state }) },
      order: { id: "DESC" },
      skip: offset,
      take: limit,
    });
    return { total, deliveries: rows.map(told) };
  }

  /** Outcomes of long ago go. */
  prune(beforeMs: number): Promise<unknown> {
    return this.#database.write((manager) => manager.delete(AlertDeliveryEntity, { atMs: LessThan(beforeMs) }));
  }
}

export const told = ({ fields: _fields, ...delivery }: AlertDeliveryRow): AlertDelivery => delivery;
