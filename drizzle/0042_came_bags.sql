CREATE TABLE "came_bags" (
	"id" serial PRIMARY KEY NOT NULL,
	"upload_number" integer NOT NULL,
	"name" text NOT NULL,
	"manifest_sha256" text NOT NULL,
	"info" jsonb NOT NULL,
	"files" integer NOT NULL,
	"bytes" bigint NOT NULL,
	"lot" text NOT NULL,
	"left_over" jsonb NOT NULL,
	"blob_id" uuid,
	"taken_in_by" integer NOT NULL,
	"began_at" timestamp with time zone DEFAULT now() NOT NULL,
	"ended_at" timestamp with time zone,
	"json_shape" smallint DEFAULT 1 NOT NULL,
	CONSTRAINT "came_bags_uploadNumber_unique" UNIQUE("upload_number")
);
--> statement-breakpoint
CREATE TABLE "came_media" (
	"bag_id" integer NOT NULL,
	"path" text NOT NULL,
	"medium_id" integer NOT NULL,
	CONSTRAINT "came_media_bag_id_path_pk" PRIMARY KEY("bag_id","path")
);
--> statement-breakpoint
ALTER TABLE "uploads" DROP CONSTRAINT "uploads_kind";--> statement-breakpoint
ALTER TABLE "ledger" DROP CONSTRAINT "ledger_kind";--> statement-breakpoint
ALTER TABLE "came_bags" ADD CONSTRAINT "came_bags_blob_id_blobs_id_fk" FOREIGN KEY ("blob_id") REFERENCES "public"."blobs"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "came_bags" ADD CONSTRAINT "came_bags_taken_in_by_operators_id_fk" FOREIGN KEY ("taken_in_by") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "came_media" ADD CONSTRAINT "came_media_bag_id_came_bags_id_fk" FOREIGN KEY ("bag_id") REFERENCES "public"."came_bags"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "came_media" ADD CONSTRAINT "came_media_medium_id_media_id_fk" FOREIGN KEY ("medium_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "came_bags_manifest_sha256_index" ON "came_bags" USING btree ("manifest_sha256");--> statement-breakpoint
CREATE INDEX "came_bags_blob_id_index" ON "came_bags" USING btree ("blob_id");--> statement-breakpoint
CREATE INDEX "came_bags_taken_in_by_index" ON "came_bags" USING btree ("taken_in_by");--> statement-breakpoint
CREATE INDEX "came_media_medium_id_index" ON "came_media" USING btree ("medium_id");--> statement-breakpoint
ALTER TABLE "uploads" ADD CONSTRAINT "uploads_kind" CHECK ("uploads"."kind" in ('capture', 'image', 'disc', 'bag'));--> statement-breakpoint
ALTER TABLE "ledger" ADD CONSTRAINT "ledger_kind" CHECK ("ledger"."kind" in ('registered', 'described', 'lot', 'lender', 'machine', 'placed', 'removed', 'cleaned', 'sitting-started', 'sitting-paused', 'sitting-resumed', 'sitting-held', 'sitting-stopped', 'track', 'fair-copy', 'taken-in', 'handed-out', 'permitted', 'parcel', 'writeback-started', 'writeback-asked', 'writeback-ended', 'writeback-outcome', 'writeback-queued', 'layout-added', 'layout-removed', 'verdict', 'sitting-preview', 'confirmed', 'head-dirty', 'self-test', 'stack', 'set', 'paper-added', 'paper-removed', 'setting-kept', 'settling-hurried', 'rule-added', 'rule-removed', 'scanned', 'related', 'withdrawn', 'reinstated', 'merged', 'extracted', 'blocks', 'device', 'memory-card', 'transfer', 'fixity', 'elsewhere'));