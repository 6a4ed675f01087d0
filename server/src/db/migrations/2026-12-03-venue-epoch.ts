/** Which of the venue's reports told a trade, and which process of the venue told it: what a killed venue has lost is struck out. */
import type { MigrationInterface, QueryRunner } from "typeorm";

export class VenueEpoch1796400000000 implements MigrationInterface {
  readonly name = "VenueEpoch1796400000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "watch" ADD COLUMN "epoch" text NOT NULL DEFAULT ('')`);
    await runner.query(`ALTER TABLE "watch_trade" ADD COLUMN "report" integer NOT NULL DEFAULT (0)`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "watch_trade" DROP COLUMN "report"`);
    await runner.query(`ALTER TABLE "watch" DROP COLUMN "epoch"`);
  }
}
