/** Where new bars come from by themselves, and what came. */
import type { MigrationInterface, QueryRunner } from "typeorm";

export class Sources1797300000000 implements MigrationInterface {
  readonly name = "Sources1797300000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "source" ("id" text PRIMARY KEY NOT NULL, "symbol" text NOT NULL, "source" text NOT NULL, "isOn" boolean NOT NULL, "lookedMs" integer NOT NULL, CONSTRAINT "source_instrument" FOREIGN KEY ("symbol") REFERENCES "instrument" ("symbol") ON DELETE CASCADE ON UPDATE NO ACTION)`,
    );
    await runner.query(
      `CREATE TABLE "source_item" ("id" integer PRIMARY KEY AUTOINCREMENT NOT NULL, "sourceId" text NOT NULL, "key" text NOT NULL, "outcome" text NOT NULL, "text" text NOT NULL, "atMs" integer NOT NULL, CONSTRAINT "source_item_source" FOREIGN KEY ("sourceId") REFERENCES "source" ("id") ON DELETE CASCADE ON UPDATE NO ACTION)`,
    );
    await runner.query(`CREATE INDEX "source_item_key" ON "source_item" ("sourceId", "key")`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP TABLE "source_item"`);
    await runner.query(`DROP TABLE "source"`);
  }
}
