/** An entry of a watch's journal says what of a later difference from the backtest it explains. */
import type { MigrationInterface, QueryRunner } from "typeorm";

export class EventCause1796300000000 implements MigrationInterface {
  readonly name = "EventCause1796300000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "watch_event" ADD COLUMN "cause" text NOT NULL DEFAULT ('')`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "watch_event" DROP COLUMN "cause"`);
  }
}
