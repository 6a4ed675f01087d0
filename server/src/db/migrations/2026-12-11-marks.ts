/** What is looked at before one codes: studies on a chart, kept as layouts, and marks made by hand. */
import type { MigrationInterface, QueryRunner } from "typeorm";

export class Marks1797200000000 implements MigrationInterface {
  readonly name = "Marks1797200000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "chart_layout" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "studies" text NOT NULL, "changedMs" integer NOT NULL)`,
    );
    await runner.query(
      `CREATE TABLE "mark" ("id" text PRIMARY KEY NOT NULL, "symbol" text NOT NULL, "mark" text NOT NULL, "createdMs" integer NOT NULL, CONSTRAINT "mark_instrument" FOREIGN KEY ("symbol") REFERENCES "instrument" ("symbol") ON DELETE CASCADE ON UPDATE NO ACTION)`,
    );
    await runner.query(`CREATE INDEX "mark_symbol" ON "mark" ("symbol")`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP TABLE "mark"`);
    await runner.query(`DROP TABLE "chart_layout"`);
  }
}
