import type { MigrationInterface, QueryRunner } from "typeorm";

const TABLES = [
  `CREATE TABLE "instrument" ("symbol" text PRIMARY KEY NOT NULL, "facts" text NOT NULL, "origin" text NOT NULL, "createdMs" integer NOT NULL)`,
  `CREATE TABLE "bar_set" ("id" integer PRIMARY KEY AUTOINCREMENT NOT NULL, "symbol" text NOT NULL, "timeframe" text NOT NULL, "count" integer NOT NULL, "firstMs" integer NOT NULL, "lastMs" integer NOT NULL, "hash" text NOT NULL, "hasSpread" boolean NOT NULL, "createdMs" integer NOT NULL, CONSTRAINT "bar_set_instrument" FOREIGN KEY ("symbol") REFERENCES "instrument" ("symbol") ON DELETE CASCADE ON UPDATE NO ACTION)`,
  `CREATE UNIQUE INDEX "bar_set_symbol" ON "bar_set" ("symbol")`,
  `CREATE TABLE "bar_chunk" ("id" integer PRIMARY KEY AUTOINCREMENT NOT NULL, "barSetId" integer NOT NULL, "seq" integer NOT NULL, "count" integer NOT NULL, "data" blob NOT NULL, CONSTRAINT "bar_chunk_set" FOREIGN KEY ("barSetId") REFERENCES "bar_set" ("id") ON DELETE CASCADE ON UPDATE NO ACTION)`,
  `CREATE UNIQUE INDEX "bar_chunk_place" ON "bar_chunk" ("barSetId", "seq")`,
  `CREATE TABLE "plan" ("id" text PRIMARY KEY NOT NULL, "title" text NOT NULL, "source" text NOT NULL, "inputs" text NOT NULL, "settings" text NOT NULL, "note" text NOT NULL, "createdMs" integer NOT NULL, "updatedMs" integer NOT NULL)`,
  `CREATE TABLE "run" ("id" text PRIMARY KEY NOT NULL, "planId" text NOT NULL, "planTitle" text NOT NULL, "name" text NOT NULL, "note" text NOT NULL, "settings" text NOT NULL, "status" text NOT NULL, "createdMs" integer NOT NULL, "netProfit" real NOT NULL, "maxDrawdown" real NOT NULL, "trades" integer NOT NULL, "sharpe" real, "profitFactor" real, "spark" text NOT NULL)`,
  `CREATE INDEX "run_created" ON "run" ("createdMs")`,
  `CREATE INDEX "run_plan" ON "run" ("planId", "createdMs")`,
  `CREATE TABLE "run_body" ("runId" text PRIMARY KEY NOT NULL, "evidence" blob NOT NULL, "orders" blob NOT NULL, "columns" blob NOT NULL, CONSTRAINT "run_body_run" FOREIGN KEY ("runId") REFERENCES "run" ("id") ON DELETE CASCADE ON UPDATE NO ACTION)`,
  `CREATE TABLE "sweep" ("id" text PRIMARY KEY NOT NULL, "planId" text NOT NULL, "planTitle" text NOT NULL, "source" text NOT NULL, "request" text NOT NULL, "inputSpecs" text NOT NULL, "status" text NOT NULL, "variants" integer NOT NULL, "done" integer NOT NULL, "failures" text NOT NULL, "figures" blob NOT NULL, "createdMs" integer NOT NULL, "elapsedMs" integer NOT NULL, "error" text NOT NULL)`,
  `CREATE INDEX "sweep_created" ON "sweep" ("createdMs")`,
  `CREATE TABLE "watch" ("id" text PRIMARY KEY NOT NULL, "planId" text NOT NULL, "planTitle" text NOT NULL, "source" text NOT NULL, "inputs" text NOT NULL, "settings" text NOT NULL, "state" text NOT NULL, "endReason" text NOT NULL, "createdMs" integer NOT NULL, "closed" text NOT NULL)`,
  `CREATE TABLE "watch_event" ("id" integer PRIMARY KEY AUTOINCREMENT NOT NULL, "watchId" text NOT NULL, "timeMs" integer NOT NULL, "kind" text NOT NULL, "text" text NOT NULL, CONSTRAINT "watch_event_watch_fk" FOREIGN KEY ("watchId") REFERENCES "watch" ("id") ON DELETE CASCADE ON UPDATE NO ACTION)`,
  `CREATE INDEX "watch_event_watch" ON "watch_event" ("watchId", "id")`,
];

export class FirstSchema1764000000000 implements MigrationInterface {
  readonly name = "FirstSchema1764000000000";

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of TABLES) await runner.query(statement);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ["watch_event", "watch", "sweep", "run_body", "run", "plan", "bar_chunk", "bar_set", "instrument"])
      await runner.query(`DROP TABLE "${table}"`);
  }
}
