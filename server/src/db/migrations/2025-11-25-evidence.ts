/** Runs found among thousands, versions and variants of plans, and the journal of what was tried. */
import type { MigrationInterface, QueryRunner } from "typeorm";

const RUN_COLUMNS = [
  `"tags" text NOT NULL DEFAULT '[]'`,
  `"batch" text NOT NULL DEFAULT ''`,
  `"symbol" text NOT NULL DEFAULT ''`,
  `"timeframe" text NOT NULL DEFAULT ''`,
  `"winRate" real`,
  `"averageTrade" real`,
  `"returnToDrawdown" real`,
  `"totalReturn" real`,
];

const STATEMENTS = [
  ...RUN_COLUMNS.map((column) => `ALTER TABLE "run" ADD COLUMN ${column}`),
  `UPDATE "run" SET "symbol" = json_extract("settings", '$.symbol'), "timeframe" = json_extract("settings", '$.timeframe')`,
  `CREATE INDEX "run_batch" ON "run" ("batch")`,
  `CREATE TABLE "plan_version" ("id" text PRIMARY KEY NOT NULL, "planId" text NOT NULL, "createdMs" integer NOT NULL, "name" text NOT NULL, "hash" text NOT NULL, "source" text NOT NULL, "inputs" text NOT NULL, "settings" text NOT NULL)`,
  `CREATE UNIQUE INDEX "plan_version_text" ON "plan_version" ("planId", "hash")`,
  `CREATE TABLE "variant" ("id" text PRIMARY KEY NOT NULL, "planId" text NOT NULL, "createdMs" integer NOT NULL, "name" text NOT NULL, "inputs" text NOT NULL, "kit" text NOT NULL)`,
  `CREATE INDEX "variant_plan" ON "variant" ("planId", "createdMs")`,
  `CREATE TABLE "trial" ("id" integer PRIMARY KEY AUTOINCREMENT NOT NULL, "planId" text NOT NULL, "createdMs" integer NOT NULL, "kind" text NOT NULL, "runId" text NOT NULL, "versionId" text NOT NULL, "inputs" text NOT NULL, "settings" text NOT NULL, "changes" text NOT NULL, "variants" integer NOT NULL, "status" text NOT NULL, "netProfit" real, "maxDrawdown" real, "trades" integer, "sharpe" real, "sharpeVariance" real)`,
  `CREATE INDEX "trial_plan" ON "trial" ("planId", "id")`,
  `ALTER TABLE "plan" ADD COLUMN "reservedFrom" text NOT NULL DEFAULT ''`,
  `ALTER TABLE "sweep" ADD COLUMN "daily" blob`,
  `ALTER TABLE "sweep" ADD COLUMN "dailyStride" integer NOT NULL DEFAULT 0`,
  `CREATE TABLE "walk_forward" ("id" text PRIMARY KEY NOT NULL, "planId" text NOT NULL, "planTitle" text NOT NULL, "source" text NOT NULL, "request" text NOT NULL, "inputSpecs" text NOT NULL, "status" text NOT NULL, "done" integer NOT NULL, "createdMs" integer NOT NULL, "elapsedMs" integer NOT NULL, "error" text NOT NULL, "windows" text NOT NULL, "result" blob)`,
  `CREATE INDEX "walk_forward_created" ON "walk_forward" ("createdMs")`,
];

export class EvidenceSchema1764100000000 implements MigrationInterface {
  readonly name = "EvidenceSchema1764100000000";

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "plan" DROP COLUMN "reservedFrom"`);
    for (const column of ["daily", "dailyStride"]) await runner.query(`ALTER TABLE "sweep" DROP COLUMN "${column}"`);
    for (const table of ["walk_forward", "trial", "variant", "plan_version"]) await runner.query(`DROP TABLE "${table}"`);
    await runner.query(`DROP INDEX "run_batch"`);
    for (const column of RUN_COLUMNS) await runner.query(`ALTER TABLE "run" DROP COLUMN ${column.split(" ")[0]}`);
  }
}
