/** Secrets of alert channels, apart from the channels; and what became of each alert. Channels and rules are a document of the workspace. */
import type { MigrationInterface, QueryRunner } from "typeorm";

const TABLES = [
  `CREATE TABLE "alert_secret" ("channelId" text PRIMARY KEY NOT NULL, "secret" text NOT NULL)`,
  `CREATE TABLE "alert_delivery" ("id" integer PRIMARY KEY AUTOINCREMENT NOT NULL, "atMs" integer NOT NULL, "watchId" text NOT NULL,
    "watchName" text NOT NULL, "event" text NOT NULL, "level" text NOT NULL, "text" text NOT NULL, "fields" text NOT NULL,
    "channelId" text NOT NULL, "channelName" text NOT NULL, "state" text NOT NULL, "tries" integer NOT NULL, "outcome" text NOT NULL,
    "doneMs" integer NOT NULL)`,
  `CREATE INDEX "alert_delivery_state" ON "alert_delivery" ("state", "id")`,
  `CREATE INDEX "alert_delivery_watch" ON "alert_delivery" ("watchId", "id")`,
];

export class Alerts1796100000000 implements MigrationInterface {
  readonly name = "Alerts1796100000000";

  async up(runner: QueryRunner): Promise<void> {
    for (const table of TABLES) await runner.query(table);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ["alert_delivery", "alert_secret"]) await runner.query(`DROP TABLE "${table}"`);
  }
}
