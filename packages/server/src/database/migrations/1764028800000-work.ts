import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Long work and what it finds out about lockfiles, and the reports of machines. */
export class Work1764028800000 implements MigrationInterface {
  name = 'Work1764028800000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE "job" (
        "id" uuid NOT NULL,
        "workspace_id" uuid NOT NULL,
        "kind" text NOT NULL,
        "key" text NOT NULL,
        "state" text NOT NULL,
        "done" integer NOT NULL,
        "total" integer NOT NULL,
        "trouble" text,
        "created_at" timestamptz NOT NULL,
        "updated_at" timestamptz NOT NULL,
        CONSTRAINT "job_pk" PRIMARY KEY ("id"),
        CONSTRAINT "job_workspace_fk" FOREIGN KEY ("workspace_id")
          REFERENCES "workspace" ("id") ON DELETE CASCADE
      )`);
    await runner.query(
      `CREATE UNIQUE INDEX "job_open_key" ON "job" ("workspace_id", "kind", "key")
       WHERE "state" IN ('waiting', 'running')`,
    );
    await runner.query(`
      CREATE TABLE "lock_commit" (
        "workspace_id" uuid NOT NULL,
        "commit" text NOT NULL,
        "subject" text NOT NULL,
        "author" text NOT NULL,
        "at" timestamptz NOT NULL,
        "sum" text,
        "copies" integer NOT NULL,
        "entered" jsonb NOT NULL,
        "left" jsonb NOT NULL,
        CONSTRAINT "lock_commit_pk" PRIMARY KEY ("workspace_id", "commit"),
        CONSTRAINT "lock_commit_workspace_fk" FOREIGN KEY ("workspace_id")
          REFERENCES "workspace" ("id") ON DELETE CASCADE
      )`);
    await runner.query(`
      CREATE TABLE "drift_point" (
        "workspace_id" uuid NOT NULL,
        "commit" text NOT NULL,
        "day" date NOT NULL,
        "entered" integer,
        "left" integer,
        "moved" integer,
        CONSTRAINT "drift_point_pk" PRIMARY KEY ("workspace_id", "commit", "day"),
        CONSTRAINT "drift_point_workspace_fk" FOREIGN KEY ("workspace_id")
          REFERENCES "workspace" ("id") ON DELETE CASCADE
      )`);
    await runner.query(`
      CREATE TABLE "report" (
        "workspace_id" uuid NOT NULL,
        "kind" text NOT NULL,
        "name" text NOT NULL,
        "branch" text,
        "commit" text,
        "lock_sum" text NOT NULL,
        "installed_sum" text,
        "reported_by" text NOT NULL,
        "at" timestamptz NOT NULL,
        "since" timestamptz NOT NULL,
        CONSTRAINT "report_pk" PRIMARY KEY ("workspace_id", "kind", "name"),
        CONSTRAINT "report_workspace_fk" FOREIGN KEY ("workspace_id")
          REFERENCES "workspace" ("id") ON DELETE CASCADE
      )`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ['report', 'drift_point', 'lock_commit', 'job'])
      await runner.query(`DROP TABLE "${table}"`);
  }
}
