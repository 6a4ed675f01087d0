/** Repairs of bars: layers over what was imported, with the hash of what they leave. */
import type { MigrationInterface, QueryRunner } from "typeorm";

export class Repairs1797000000000 implements MigrationInterface {
  readonly name = "Repairs1797000000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "repair" ("id" integer PRIMARY KEY AUTOINCREMENT NOT NULL, "symbol" text NOT NULL, "repair" text NOT NULL, "reason" text NOT NULL, "createdMs" integer NOT NULL, "undoneMs" integer NOT NULL, CONSTRAINT "repair_instrument" FOREIGN KEY ("symbol") REFERENCES "instrument" ("symbol") ON DELETE CASCADE ON UPDATE NO ACTION)`,
    );
    await runner.query(`CREATE INDEX "repair_symbol" ON "repair" ("symbol")`);
    await runner.query(`ALTER TABLE "bar_set" ADD COLUMN "repairedHash" text NOT NULL DEFAULT ''`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP TABLE "repair"`);
    await runner.query(`ALTER TABLE "bar_set" DROP COLUMN "repairedHash"`);
  }
}
