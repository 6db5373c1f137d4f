import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Standing orders, when they ran, and drafts that are theirs. */
export class StandingOrders1764460800000 implements MigrationInterface {
  name = 'StandingOrders1764460800000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE "standing_order" (
      "workspace_id" uuid NOT NULL, "name" text NOT NULL, "every" text NOT NULL, "known_since" timestamptz NOT NULL,
      CONSTRAINT "standing_order_pk" PRIMARY KEY ("workspace_id", "name"),
      CONSTRAINT "standing_order_workspace_fk" FOREIGN KEY ("workspace_id") REFERENCES "workspace" ("id") ON DELETE CASCADE)`);
    await runner.query(`CREATE TABLE "standing_run" (
      "id" uuid NOT NULL, "workspace_id" uuid NOT NULL, "name" text NOT NULL, "due" timestamptz, "by" text,
      "state" text NOT NULL, "taken" integer NOT NULL, "left_out" integer NOT NULL, "draft_id" uuid, "commit" text,
      "says" text, "began_at" timestamptz NOT NULL, "ended_at" timestamptz,
      CONSTRAINT "standing_run_pk" PRIMARY KEY ("id"),
      CONSTRAINT "standing_run_workspace_fk" FOREIGN KEY ("workspace_id") REFERENCES "workspace" ("id") ON DELETE CASCADE)`);
    await runner.query(
      `CREATE UNIQUE INDEX "standing_run_due_key" ON "standing_run" ("workspace_id", "name", "due")`,
    );
    await runner.query(`ALTER TABLE "draft" ADD COLUMN "standing_order" text`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "draft" DROP COLUMN "standing_order"`);
    await runner.query(`DROP TABLE "standing_run"`);
    await runner.query(`DROP TABLE "standing_order"`);
  }
}
