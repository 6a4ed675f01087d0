/** Instruments that are out of the way, and lists of them under names of one's own. */
import type { MigrationInterface, QueryRunner } from "typeorm";

export class InstrumentLists1797400000000 implements MigrationInterface {
  readonly name = "InstrumentLists1797400000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "instrument" ADD COLUMN "archivedMs" integer NOT NULL DEFAULT 0`);
    await runner.query(
      `CREATE TABLE "instrument_list" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "symbols" text NOT NULL, "createdMs" integer NOT NULL)`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP TABLE "instrument_list"`);
    await runner.query(`ALTER TABLE "instrument" DROP COLUMN "archivedMs"`);
  }
}
