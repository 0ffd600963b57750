CREATE TABLE "sounds" (
	"id" serial PRIMARY KEY NOT NULL,
	"fair_copy_id" integer NOT NULL,
	"file_id" integer NOT NULL,
	"folder" text NOT NULL,
	"name" text NOT NULL,
	"described" text GENERATED ALWAYS AS (lower(name || ' ' || folder)) STORED NOT NULL,
	"seconds" real NOT NULL,
	"rate_hz" integer NOT NULL,
	"root_note" smallint,
	"is_looped" boolean NOT NULL,
	"pcm_sha256" text,
	"listed" jsonb NOT NULL,
	"json_shape" smallint DEFAULT 1 NOT NULL
);
--> statement-breakpoint
ALTER TABLE "jobs" DROP CONSTRAINT "jobs_kind";--> statement-breakpoint
ALTER TABLE "sounds" ADD CONSTRAINT "sounds_fair_copy_id_fair_copies_id_fk" FOREIGN KEY ("fair_copy_id") REFERENCES "public"."fair_copies"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sounds" ADD CONSTRAINT "sounds_file_id_files_id_fk" FOREIGN KEY ("file_id") REFERENCES "public"."files"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "sounds_fair_copy_id_index" ON "sounds" USING btree ("fair_copy_id");--> statement-breakpoint
CREATE INDEX "sounds_pcm_sha256_index" ON "sounds" USING btree ("pcm_sha256");--> statement-breakpoint
CREATE INDEX "sounds_seconds_index" ON "sounds" USING btree ("seconds");--> statement-breakpoint
CREATE INDEX "sounds_described" ON "sounds" USING gin ("described" gin_trgm_ops);--> statement-breakpoint
ALTER TABLE "jobs" ADD CONSTRAINT "jobs_kind" CHECK ("jobs"."kind" in ('sitting', 'writeback', 'self-test', 'settle', 'assembly', 'scan', 'extract', 'intake', 'alike', 'sounds', 'transfer'));--> statement-breakpoint
-- Sounds of what is kept already are made findable by the workers, one copy after another.
INSERT INTO "jobs" ("kind", "payload", "subject", "state")
SELECT 'sounds', jsonb_build_object('fairCopyId', "id"), "id", 'waiting'
FROM (SELECT DISTINCT "fair_copy_id" AS "id" FROM "volumes" WHERE "filesystem" IN ('sampler', 'wavesample')) AS "copies";
