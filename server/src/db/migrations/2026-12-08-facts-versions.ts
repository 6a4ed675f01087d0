/** Facts that an instrument had before they were changed: runs of that time are made again with them. */
import type { MigrationInterface, QueryRunner } from "typeorm";

export class FactsVersions1796900000000 implements MigrationInterface {
  readonly name = "FactsVersions1796900000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "instrument_version" ("id" integer PRIMARY KEY AUTOINCREMENT NOT NULL, "symbol" text NOT NULL, "facts" text NOT NULL, "untilMs" integer NOT NULL, CONSTRAINT "instrument_version_instrument" FOREIGN KEY ("symbol") REFERENCES "instrument" ("symbol") ON DELETE CASCADE ON UPDATE NO ACTION)`,
    );
    await runner.query(`CREATE INDEX "instrument_version_symbol" ON "instrument_version" ("symbol")`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP TABLE "instrument_version"`);
  }
}
