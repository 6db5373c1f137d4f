import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Who brought a draft into each of its states. */
export class DraftSteps1764115260000 implements MigrationInterface {
  name = 'DraftSteps1764115260000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "draft_state" ADD COLUMN "by" text`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "draft_state" DROP COLUMN "by"`);
  }
}
