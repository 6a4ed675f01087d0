/** Lists of instruments under names of one's own. One that has gone stays in its lists: it may come back. */
import { randomUUID } from "node:crypto";
import type { InstrumentList, InstrumentListBody } from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import type { Database } from "../../db/database.ts";
import { InstrumentListEntity } from "../../db/entities.ts";
import { refuseTaken } from "../../db/taken-name.ts";

export class InstrumentListRepository {
  readonly #database: Database;

  constructor(database: Database) {
    this.#database = database;
  }

  async list(): Promise<InstrumentList[]> {
    const rows = await this.#database.read.find(InstrumentListEntity, { order: { createdMs: "ASC" } });
    return rows.map(({ createdMs: _createdMs, ...list }) => list);
  }

  /** @throws PlanTesterError conflict when another list has the name */
  async insert(body: InstrumentListBody): Promise<InstrumentList> {
    const list = { id: randomUUID().slice(0, 8), ...body };
    await this.#database.write(async (manager) => {
      await refuseTaken(manager, "instrument_list", list, takenWords(body));
      await manager.insert(InstrumentListEntity, { ...list, createdMs: Date.now() });
    });
    return list;
  }

  /** @throws as `insert`, and not-found */
  async replace(id: string, body: InstrumentListBody): Promise<InstrumentList> {
    await this.#database.write(async (manager) => {
      await refuseTaken(manager, "instrument_list", { id, name: body.name }, takenWords(body));
      const { affected } = await manager.update(InstrumentListEntity, { id }, body);
      if (affected !== 1) throw missing(id);
    });
    return { id, ...body };
  }

  async delete(id: string): Promise<void> {
    const { affected } = await this.#database.write((manager) => manager.delete(InstrumentListEntity, { id }));
    if (affected !== 1) throw missing(id);
  }
}

const missing = (id: string): PlanTesterError => new PlanTesterError("not-found", `There is no list of instruments "${id}".`, { id });

const takenWords = ({ name }: InstrumentListBody): string =>
  `There is a list "${name}" already. Give this one another name, or add to that one.`;
