/** What was deleted, until it is removed for good. What is in the bin is shown nowhere else. */
import { BIN_KINDS, type BinEntry, type BinKind } from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import { type EntitySchema, MoreThan } from "typeorm";
import type { Database } from "./database.ts";
import { BlendEntity, InstrumentEntity, PlanEntity, RunEntity, SourceEntity, SweepEntity, WalkForwardEntity } from "./entities.ts";

interface Binned {
  deletedMs: number;
}

interface Place {
  readonly entity: EntitySchema<Binned>;
  readonly key: "id" | "symbol";
  /** Column with its name. */
  readonly name: string;
}

const place = <Row extends Binned>(entity: EntitySchema<Row>, key: Place["key"], name: keyof Row & string): Place => ({
  entity: entity as unknown as EntitySchema<Binned>,
  key,
  name,
});

const PLACES: Readonly<Record<BinKind, Place>> = {
  plan: place(PlanEntity, "id", "title"),
  run: place(RunEntity, "id", "name"),
  sweep: place(SweepEntity, "id", "planTitle"),
  "walk-forward": place(WalkForwardEntity, "id", "planTitle"),
  blend: place(BlendEntity, "id", "name"),
  market: place(InstrumentEntity, "symbol", "symbol"),
  source: place(SourceEntity, "id", "symbol"),
};

/** Removes one for good, with all that belongs to it. */
export type Removal = (id: string) => Promise<unknown>;

export class Bin {
  readonly #database: Database;
  readonly #removals: Readonly<Record<BinKind, Removal>>;

  constructor(database: Database, removals: Readonly<Record<BinKind, Removal>>) {
    this.#database = database;
    this.#removals = removals;
  }

  /** @throws PlanTesterError not-found when there is none, or it is in the bin already. */
  async put(kind: BinKind, id: string): Promise<void> {
    await this.#mark(kind, id, 0, Date.now(), `There is no ${kind} "${id}".`);
  }

  /** @throws PlanTesterError not-found when it is not in the bin: it may have been removed for good. */
  async restore(kind: BinKind, id: string): Promise<void> {
    const { entity, key } = PLACES[kind];
    const row = await this.#database.read.findOneBy(entity, { [key]: id });
    await this.#mark(kind, id, row?.deletedMs || -1, 0, `There is no ${kind} "${id}" in the bin. It may have been removed for good.`);
  }

  async #mark(kind: BinKind, id: string, from: number, to: number, complaint: string): Promise<void> {
    const { entity, key } = PLACES[kind];
    const { affected } = await this.#database.write((manager) => manager.update(entity, { [key]: id, deletedMs: from }, { deletedMs: to }));
    if (affected !== 1) throw new PlanTesterError("not-found", complaint, { kind, id });
  }

  /** The last deleted first. */
  async list(): Promise<BinEntry[]> {
    const entries: BinEntry[] = [];
    for (const kind of BIN_KINDS) {
      const { entity, key, name } = PLACES[kind];
      const select = { [key]: true, [name]: true, deletedMs: true };
      const rows = (await this.#database.read.find(entity, { select, where: { deletedMs: MoreThan(0) } })) as unknown as Record<
        string,
        string
      >[];
      for (const row of rows) entries.push({ kind, id: row[key]!, name: row[name]!, deletedMs: Number(row.deletedMs) });
    }
    return entries.sort((a, b) => b.deletedMs - a.deletedMs);
  }

  /** Removes one for good at once, wherever it is. */
  async remove(kind: BinKind, id: string): Promise<void> {
    await this.#removals[kind](id);
  }

  /** Removes for good what was deleted before a time. @returns how much. */
  async empty(beforeMs: number): Promise<number> {
    let count = 0;
    for (const { kind, id, deletedMs } of await this.list()) {
      if (deletedMs >= beforeMs) continue;
      await this.#removals[kind](id);
      count++;
    }
    return count;
  }
}
