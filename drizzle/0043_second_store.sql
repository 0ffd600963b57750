CREATE TABLE "houses" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"second_store" text DEFAULT '' NOT NULL
);
--> statement-breakpoint
CREATE TABLE "stored_files" (
	"object_id" text NOT NULL,
	"path" text NOT NULL,
	"sha256" text NOT NULL,
	"sha512" text NOT NULL,
	CONSTRAINT "stored_files_object_id_path_pk" PRIMARY KEY("object_id","path")
);
--> statement-breakpoint
CREATE TABLE "stored_objects" (
	"id" text PRIMARY KEY NOT NULL,
	"medium_id" integer,
	"version" integer NOT NULL,
	"ledger_id" integer NOT NULL,
	"files" integer NOT NULL,
	"bytes" bigint NOT NULL,
	"written_at" timestamp with time zone NOT NULL,
	"verified_at" timestamp with time zone,
	"trouble" jsonb,
	"json_shape" smallint DEFAULT 1 NOT NULL
);
--> statement-breakpoint
ALTER TABLE "jobs" DROP CONSTRAINT "jobs_kind";--> statement-breakpoint
ALTER TABLE "stored_files" ADD CONSTRAINT "stored_files_object_id_stored_objects_id_fk" FOREIGN KEY ("object_id") REFERENCES "public"."stored_objects"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "stored_objects" ADD CONSTRAINT "stored_objects_medium_id_media_id_fk" FOREIGN KEY ("medium_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "stored_files_sha256_index" ON "stored_files" USING btree ("sha256");--> statement-breakpoint
CREATE INDEX "stored_objects_medium_id_index" ON "stored_objects" USING btree ("medium_id");--> statement-breakpoint
CREATE INDEX "stored_objects_verified_at_index" ON "stored_objects" USING btree ("verified_at");--> statement-breakpoint
ALTER TABLE "jobs" ADD CONSTRAINT "jobs_kind" CHECK ("jobs"."kind" in ('sitting', 'writeback', 'self-test', 'settle', 'assembly', 'scan', 'extract', 'intake', 'alike', 'sounds', 'transfer', 'second-store'));--> statement-breakpoint
INSERT INTO "houses" DEFAULT VALUES;
