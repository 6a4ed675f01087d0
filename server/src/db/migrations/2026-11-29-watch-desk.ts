/** A watch has a name, a way to go about its orders, and what the venue said of it last; its journal says who did what; its trades are rows. */
import type { MigrationInterface, QueryRunner } from "typeorm";

const WATCH = {
  name: "text NOT NULL DEFAULT ('')",
  options: "text NOT NULL DEFAULT ('{}')",
  isPaused: "boolean NOT NULL DEFAULT (0)",
  lastReport: "integer NOT NULL DEFAULT (0)",
  held: "text NOT NULL DEFAULT ('null')",
};
const EVENT = { atMs: "integer NOT NULL DEFAULT (0)", by: "text NOT NULL DEFAULT ('')", level: "text NOT NULL DEFAULT ('')" };

const TRADES = `CREATE TABLE "watch_trade" ("id" integer PRIMARY KEY AUTOINCREMENT NOT NULL, "watchId" text NOT NULL, "exitMs" integer NOT NULL,
  "net" real NOT NULL, "trade" text NOT NULL,
  CONSTRAINT "watch_trade_watch_fk" FOREIGN KEY ("watchId") REFERENCES "watch" ("id") ON DELETE CASCADE ON UPDATE NO ACTION)`;

export class WatchDesk1796000000000 implements MigrationInterface {
  readonly name = "WatchDesk1796000000000";

  async up(runner: QueryRunner): Promise<void> {
    for (const [column, type] of Object.entries(WATCH)) await runner.query(`ALTER TABLE "watch" ADD COLUMN "${column}" ${type}`);
    await runner.query(TRADES);
    await runner.query(`CREATE INDEX "watch_trade_watch" ON "watch_trade" ("watchId", "id")`);
    await runner.query(`INSERT INTO "watch_trade" ("watchId", "exitMs", "net", "trade")
      SELECT "watch"."id", json_extract(value, '$.exitTime'), json_extract(value, '$.net'), value FROM "watch", json_each("watch"."closed")`);
    await runner.query(`ALTER TABLE "watch" DROP COLUMN "closed"`);
    for (const [column, type] of Object.entries(EVENT)) await runner.query(`ALTER TABLE "watch_event" ADD COLUMN "${column}" ${type}`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "watch" ADD COLUMN "closed" text NOT NULL DEFAULT ('[]')`);
    await runner.query(`UPDATE "watch" SET "closed" =
      (SELECT coalesce(json_group_array(json("trade")), '[]') FROM "watch_trade" WHERE "watchId" = "watch"."id")`);
    await runner.query(`DROP TABLE "watch_trade"`);
    for (const column of Object.keys(WATCH)) await runner.query(`ALTER TABLE "watch" DROP COLUMN "${column}"`);
    for (const column of Object.keys(EVENT)) await runner.query(`ALTER TABLE "watch_event" DROP COLUMN "${column}"`);
  }
}
