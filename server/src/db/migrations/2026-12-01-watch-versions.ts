/** A version of a plan that waits until its watch is flat, and the one that its user does not want. */
import type { MigrationInterface, QueryRunner } from "typeorm";

const COLUMNS = { pending: "text NOT NULL DEFAULT ('null')", declined: "text NOT NULL DEFAULT ('')" };

export class WatchVersions1796200000000 implements MigrationInterface {
  readonly name = "WatchVersions1796200000000";

  async up(runner: QueryRunner): Promise<void> {
    for (const [column, type] of Object.entries(COLUMNS)) await runner.query(`ALTER TABLE "watch" ADD COLUMN "${column}" ${type}`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const column of Object.keys(COLUMNS)) await runner.query(`ALTER TABLE "watch" DROP COLUMN "${column}"`);
  }
}
