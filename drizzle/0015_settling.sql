CREATE TABLE "settlings" (
	"id" serial PRIMARY KEY NOT NULL,
	"medium_id" integer NOT NULL,
	"cause" text NOT NULL,
	"about" jsonb NOT NULL,
	"state" text NOT NULL,
	"trouble" text,
	"operator_id" integer NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "settlings_cause" CHECK ("settlings"."cause" in ('layout', 'setting', 'verdict')),
	CONSTRAINT "settlings_state" CHECK ("settlings"."state" in ('waiting', 'settling', 'done', 'failed'))
);

--> statement-breakpoint
ALTER TABLE "extracts" DROP CONSTRAINT "extracts_state";
--> statement-breakpoint
ALTER TABLE "jobs" DROP CONSTRAINT "jobs_kind";
--> statement-breakpoint
ALTER TABLE "blobs" ADD COLUMN "created_at" timestamp with time zone DEFAULT now() NOT NULL;
--> statement-breakpoint
ALTER TABLE "uploads" ADD COLUMN "kind" text;
--> statement-breakpoint
ALTER TABLE "settlings" ADD CONSTRAINT "settlings_medium_id_media_id_fk" FOREIGN KEY ("medium_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;
--> statement-breakpoint
ALTER TABLE "settlings" ADD CONSTRAINT "settlings_operator_id_operators_id_fk" FOREIGN KEY ("operator_id") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;
--> statement-breakpoint
CREATE INDEX "settlings_medium_id_index" ON "settlings" USING btree ("medium_id");
--> statement-breakpoint
CREATE INDEX "blobs_same_as_index" ON "blobs" USING btree ("same_as");
--> statement-breakpoint
ALTER TABLE "extracts" ADD CONSTRAINT "extracts_state" CHECK ("extracts"."state" in ('waiting', 'running', 'done', 'failed', 'cancelled', 'expired'));
--> statement-breakpoint
ALTER TABLE "jobs" ADD CONSTRAINT "jobs_kind" CHECK ("jobs"."kind" in ('sitting', 'writeback', 'self-test', 'settle', 'scan', 'extract', 'intake', 'transfer'));
--> statement-breakpoint
ALTER TABLE "uploads" ADD CONSTRAINT "uploads_kind" CHECK ("uploads"."kind" in ('capture', 'image', 'disc'));
