ALTER TABLE "jobs" DROP CONSTRAINT "jobs_kind";
--> statement-breakpoint
ALTER TABLE "assemblies" ADD COLUMN "settled_by" integer;
--> statement-breakpoint
ALTER TABLE "assemblies" ADD COLUMN "trouble" jsonb;
--> statement-breakpoint
ALTER TABLE "assemblies" ADD CONSTRAINT "assemblies_settled_by_operators_id_fk" FOREIGN KEY ("settled_by") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;
--> statement-breakpoint
ALTER TABLE "jobs" ADD CONSTRAINT "jobs_kind" CHECK ("jobs"."kind" in ('sitting', 'writeback', 'self-test', 'settle', 'assembly', 'scan', 'extract', 'intake', 'alike', 'transfer'));
