import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What scans found, by content, and how workspaces stood at their commits. Both can be computed again. */
export class Findings1763942400000 implements MigrationInterface {
  name = 'Findings1763942400000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE "source_scan" (
        "key" text NOT NULL,
        "found" jsonb NOT NULL,
        CONSTRAINT "source_scan_pk" PRIMARY KEY ("key")
      )`);
    await runner.query(`
      CREATE TABLE "commit_figures" (
        "workspace_id" uuid NOT NULL,
        "commit" text NOT NULL,
        "subject" text NOT NULL,
        "author" text NOT NULL,
        "at" timestamptz NOT NULL,
        "figures" jsonb NOT NULL,
        "findings" jsonb NOT NULL,
        CONSTRAINT "commit_figures_pk" PRIMARY KEY ("workspace_id", "commit"),
        CONSTRAINT "commit_figures_workspace_fk" FOREIGN KEY ("workspace_id")
          REFERENCES "workspace" ("id") ON DELETE CASCADE
      )`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP TABLE "commit_figures"`);
    await runner.query(`DROP TABLE "source_scan"`);
  }
}
