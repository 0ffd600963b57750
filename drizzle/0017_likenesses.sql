CREATE TABLE "likenesses" (
	"medium_id" integer NOT NULL,
	"other_id" integer NOT NULL,
	"files" integer DEFAULT 0 NOT NULL,
	"of_medium" integer DEFAULT 0 NOT NULL,
	"of_other" integer DEFAULT 0 NOT NULL,
	"examples" text[] DEFAULT '{}' NOT NULL,
	"tracks" integer DEFAULT 0 NOT NULL,
	"of_tracks" integer DEFAULT 0 NOT NULL,
	"file_share" real DEFAULT 0 NOT NULL,
	"track_share" real DEFAULT 0 NOT NULL,
	CONSTRAINT "likenesses_medium_id_other_id_pk" PRIMARY KEY("medium_id","other_id"),
	CONSTRAINT "likenesses_order" CHECK ("likenesses"."medium_id" < "likenesses"."other_id")
);

--> statement-breakpoint
ALTER TABLE "jobs" DROP CONSTRAINT "jobs_kind";
--> statement-breakpoint
ALTER TABLE "likenesses" ADD CONSTRAINT "likenesses_medium_id_media_id_fk" FOREIGN KEY ("medium_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;
--> statement-breakpoint
ALTER TABLE "likenesses" ADD CONSTRAINT "likenesses_other_id_media_id_fk" FOREIGN KEY ("other_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;
--> statement-breakpoint
CREATE INDEX "likenesses_other_id_index" ON "likenesses" USING btree ("other_id");
--> statement-breakpoint
CREATE INDEX "likenesses_files" ON "likenesses" USING btree ("file_share" desc,"files" desc);
--> statement-breakpoint
CREATE INDEX "likenesses_tracks" ON "likenesses" USING btree ("track_share" desc);
--> statement-breakpoint
ALTER TABLE "jobs" ADD CONSTRAINT "jobs_kind" CHECK ("jobs"."kind" in ('sitting', 'writeback', 'self-test', 'settle', 'scan', 'extract', 'intake', 'alike', 'transfer'));
--> statement-breakpoint
INSERT INTO "jobs" ("kind", "payload", "subject", "state")
SELECT 'alike', jsonb_build_object('mediumId', "medium_id"), "medium_id", 'waiting'
FROM (SELECT DISTINCT "medium_id" FROM "fair_copies") AS kept;
