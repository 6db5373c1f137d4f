import type { MigrationInterface, QueryRunner } from 'typeorm';

/** A repository may be open before it is a workspace. */
export class BringIn1764374400000 implements MigrationInterface {
  name = 'BringIn1764374400000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "workspace" ADD COLUMN "bring_in" jsonb`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "workspace" DROP COLUMN "bring_in"`);
  }
}
