import type { MigrationInterface, QueryRunner } from 'typeorm';

const ACTIONS = [
  ['mend', 'repairLockfile'],
  ['moveIn', 'centralise'],
] as const;

/**
 * Actions in the record get the names that the operations have now. What can be computed again and bears old names
 * (levels of findings, kinds of jobs and questions) goes.
 */
export class PlainWords1764115200000 implements MigrationInterface {
  name = 'PlainWords1764115200000';

  async up(runner: QueryRunner): Promise<void> {
    for (const [before, after] of ACTIONS)
      await runner.query(`UPDATE "audit" SET "action" = $2 WHERE "action" = $1`, [before, after]);
    await forgetComputed(runner);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const [before, after] of ACTIONS)
      await runner.query(`UPDATE "audit" SET "action" = $1 WHERE "action" = $2`, [before, after]);
    await forgetComputed(runner);
  }
}

async function forgetComputed(runner: QueryRunner): Promise<void> {
  await runner.query(`DELETE FROM "answer"`);
  await runner.query(`DELETE FROM "commit_figures"`);
  await runner.query(`DELETE FROM "job"`);
}
