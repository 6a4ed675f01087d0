/** What the limits of a watch's exit kit have counted, so that they go on after a restart. */
import type { MigrationInterface, QueryRunner } from "typeorm";

export class WatchKit1796600000000 implements MigrationInterface {
  readonly name = "WatchKit1796600000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "watch" ADD COLUMN "kit" text NOT NULL DEFAULT 'null'`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "watch" DROP COLUMN "kit"`);
  }
}
