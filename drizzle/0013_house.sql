-- What was called return is a write-back, and other words of docs/words.md; constraints for every state and
-- reference; leases instead of session locks; sealed certificates; a counter for each series of codes.
ALTER TABLE "returns" RENAME TO "writebacks";--> statement-breakpoint
ALTER TABLE "return_tracks" RENAME TO "writeback_tracks";--> statement-breakpoint
ALTER TABLE "return_queue" RENAME TO "writeback_queue";--> statement-breakpoint
ALTER TABLE "told_tracks" RENAME TO "controller_tracks";--> statement-breakpoint
ALTER TABLE "kept_settings" RENAME TO "track_overrides";--> statement-breakpoint
ALTER TABLE "writeback_tracks" RENAME COLUMN "return_id" TO "writeback_id";--> statement-breakpoint
ALTER TABLE "ledger" RENAME COLUMN "return_id" TO "writeback_id";--> statement-breakpoint
ALTER TABLE "controller_tracks" RENAME COLUMN "told" TO "controller";--> statement-breakpoint
ALTER TABLE "sittings" RENAME COLUMN "wanted" TO "requested_action";--> statement-breakpoint
ALTER TABLE "sittings" RENAME COLUMN "likeness" TO "duplicate_match";--> statement-breakpoint
ALTER TABLE "fair_copies" RENAME COLUMN "card_blob" TO "sidecar_blob";--> statement-breakpoint
ALTER TABLE "lots" RENAME COLUMN "return_by" TO "hand_back_by";--> statement-breakpoint
ALTER TABLE "extracts" RENAME COLUMN "knowing" TO "acknowledges_quarantine";--> statement-breakpoint
DO $$
DECLARE
  own record;
  renamed text;
BEGIN
  FOR own IN
    SELECT conrelid::regclass::text AS relation, conname AS name FROM pg_constraint
    WHERE connamespace = 'public'::regnamespace AND contype IN ('p', 'f', 'u')
  LOOP
    renamed := replace(replace(replace(replace(replace(replace(replace(own.name, 'returns', 'writebacks'), 'return_', 'writeback_'),
      'told_tracks', 'controller_tracks'), 'kept_settings', 'track_overrides'), 'card_blob', 'sidecar_blob'), '_told_', '_controller_'), 'writeback_by', 'hand_back_by');
    IF renamed <> own.name THEN
      EXECUTE format('ALTER TABLE %s RENAME CONSTRAINT %I TO %I', own.relation, own.name, left(renamed, 63));
    END IF;
  END LOOP;
  FOR own IN
    SELECT c.relname AS name, c.relkind AS kind FROM pg_class c
    WHERE c.relnamespace = 'public'::regnamespace AND c.relkind IN ('i', 'S')
  LOOP
    renamed := replace(replace(replace(replace(own.name, 'returns', 'writebacks'), 'return_', 'writeback_'),
      'told_tracks', 'controller_tracks'), 'kept_settings', 'track_overrides');
    IF renamed <> own.name THEN
      IF own.kind = 'S' THEN EXECUTE format('ALTER SEQUENCE %I RENAME TO %I', own.name, renamed);
      ELSE EXECUTE format('ALTER INDEX %I RENAME TO %I', own.name, renamed); END IF;
    END IF;
  END LOOP;
END $$;--> statement-breakpoint
UPDATE "ledger" SET "kind" = replace("kind", 'return-', 'writeback-') WHERE "kind" LIKE 'return-%';--> statement-breakpoint
UPDATE "ledger" SET "kind" = 'memory-card' WHERE "kind" = 'card';--> statement-breakpoint
UPDATE "sittings" SET "policy" = ("policy" - 'reach') || jsonb_build_object('range', "policy" -> 'reach') WHERE "policy" ? 'reach';--> statement-breakpoint
UPDATE "sittings" SET "block_policy" = ("block_policy" - 'reach') || jsonb_build_object('range', "block_policy" -> 'reach') WHERE "block_policy" ? 'reach';--> statement-breakpoint
UPDATE "sittings" SET "preview" = ("preview" - 'reach') || jsonb_build_object('range', "preview" -> 'reach') WHERE "preview" ? 'reach';--> statement-breakpoint
CREATE TABLE "workers" (
	"id" uuid PRIMARY KEY NOT NULL,
	"host" text NOT NULL,
	"pid" integer NOT NULL,
	"started_at" timestamp with time zone DEFAULT now() NOT NULL,
	"heartbeat_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "payload" jsonb;--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "resource" text;--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "worker_id" uuid;--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "ended_at" timestamp with time zone;--> statement-breakpoint
UPDATE "jobs" SET "kind" = 'writeback' WHERE "kind" = 'return';--> statement-breakpoint
UPDATE "jobs" SET
  "state" = CASE WHEN "state" = 'running' THEN 'waiting' ELSE "state" END,
  "ended_at" = CASE WHEN "state" IN ('done', 'failed') THEN now() END,
  "resource" = 'station:' || "station_id",
  "payload" = jsonb_build_object(CASE "kind" WHEN 'sitting' THEN 'sittingId' WHEN 'writeback' THEN 'writebackId' WHEN 'self-test' THEN 'selfTestId'
    WHEN 'scan' THEN 'operatorId' WHEN 'extract' THEN 'extractId' WHEN 'intake' THEN 'uploadNumber' ELSE 'transferId' END, "subject");--> statement-breakpoint
ALTER TABLE "jobs" ALTER COLUMN "payload" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "jobs" DROP COLUMN "station_id";--> statement-breakpoint
DROP INDEX "jobs_state_index";--> statement-breakpoint
CREATE TABLE "certificates" (
	"writeback_id" integer NOT NULL,
	"edition" integer NOT NULL,
	"json" "bytea" NOT NULL,
	"json_sha256" text NOT NULL,
	"pdf" "bytea" NOT NULL,
	"pdf_sha256" text NOT NULL,
	"sealed_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "certificates_writeback_id_edition_pk" PRIMARY KEY("writeback_id","edition")
);
--> statement-breakpoint
CREATE TABLE "code_series" (
	"series" text PRIMARY KEY NOT NULL,
	"last" integer NOT NULL
);
--> statement-breakpoint
INSERT INTO "code_series" ("series", "last")
  SELECT parts[1], max(parts[2]::integer) FROM (SELECT regexp_match("code", '^([A-Z]+)-(\d{1,9})$') AS parts FROM "media") AS codes
  WHERE parts IS NOT NULL GROUP BY parts[1];--> statement-breakpoint
CREATE INDEX "assemblies_base_id_index" ON "assemblies" USING btree ("base_id");--> statement-breakpoint
CREATE INDEX "attachments_blob_id_index" ON "attachments" USING btree ("blob_id");--> statement-breakpoint
ALTER TABLE "attachments" ADD CONSTRAINT "attachments_type" CHECK ("attachments"."type" in ('image/png', 'image/jpeg', 'image/gif', 'image/webp', 'application/pdf', 'text/plain'));--> statement-breakpoint
ALTER TABLE "blobs" ADD CONSTRAINT "blobs_state" CHECK ("blobs"."state" in ('growing', 'sealed', 'same'));--> statement-breakpoint
ALTER TABLE "block_extents" ADD CONSTRAINT "block_extents_grade" CHECK ("block_extents"."grade" in ('firm', 'mended', 'doubtful', 'lost', 'unread'));--> statement-breakpoint
ALTER TABLE "cards" ADD CONSTRAINT "cards_kind" CHECK ("cards"."kind" in ('img', 'dsk', 'd64', 'd71', 'd81', 'do', 'po'));--> statement-breakpoint
ALTER TABLE "certificates" ADD CONSTRAINT "certificates_writeback_id_writebacks_id_fk" FOREIGN KEY ("writeback_id") REFERENCES "public"."writebacks"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "extracts_blob_id_index" ON "extracts" USING btree ("blob_id");--> statement-breakpoint
ALTER TABLE "extracts" ADD CONSTRAINT "extracts_state" CHECK ("extracts"."state" in ('waiting', 'running', 'done', 'failed', 'cancelled'));--> statement-breakpoint
CREATE INDEX "extracts_state_index" ON "extracts" USING btree ("state");--> statement-breakpoint
ALTER TABLE "extracts" ADD CONSTRAINT "extracts_what" CHECK ("extracts"."what" in ('files', 'images'));--> statement-breakpoint
CREATE INDEX "fair_copies_capture_blob_index" ON "fair_copies" USING btree ("capture_blob");--> statement-breakpoint
CREATE INDEX "fair_copies_image_blob_index" ON "fair_copies" USING btree ("image_blob");--> statement-breakpoint
CREATE INDEX "fair_copies_sidecar_blob_index" ON "fair_copies" USING btree ("sidecar_blob");--> statement-breakpoint
ALTER TABLE "fair_copies" ADD CONSTRAINT "fair_copies_source" CHECK ("fair_copies"."source" in ('sitting', 'upload', 'assembly'));--> statement-breakpoint
ALTER TABLE "files" ADD CONSTRAINT "files_kind" CHECK ("files"."kind" in ('file', 'directory'));--> statement-breakpoint
ALTER TABLE "files" ADD CONSTRAINT "files_recoverable" CHECK ("files"."recoverable" in ('whole', 'partial', 'none'));--> statement-breakpoint
CREATE UNIQUE INDEX "jobs_alone" ON "jobs" USING btree ("resource") WHERE "jobs"."state" = 'running';--> statement-breakpoint
CREATE INDEX "jobs_by_subject" ON "jobs" USING btree ("kind","subject");--> statement-breakpoint
CREATE INDEX "jobs_by_worker" ON "jobs" USING btree ("worker_id");--> statement-breakpoint
CREATE INDEX "jobs_ended" ON "jobs" USING btree ("ended_at");--> statement-breakpoint
ALTER TABLE "jobs" ADD CONSTRAINT "jobs_kind" CHECK ("jobs"."kind" in ('sitting', 'writeback', 'self-test', 'scan', 'extract', 'intake', 'transfer'));--> statement-breakpoint
CREATE INDEX "jobs_open" ON "jobs" USING btree ("created_at") WHERE "jobs"."state" in ('waiting', 'running');--> statement-breakpoint
ALTER TABLE "jobs" ADD CONSTRAINT "jobs_state" CHECK ("jobs"."state" in ('waiting', 'running', 'done', 'failed'));--> statement-breakpoint
ALTER TABLE "jobs" ADD CONSTRAINT "jobs_worker_id_workers_id_fk" FOREIGN KEY ("worker_id") REFERENCES "public"."workers"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "ledger" ADD CONSTRAINT "ledger_kind" CHECK ("ledger"."kind" in ('registered', 'described', 'lot', 'placed', 'removed', 'cleaned', 'sitting-started', 'sitting-paused', 'sitting-resumed', 'sitting-held', 'sitting-stopped', 'track', 'fair-copy', 'taken-in', 'handed-out', 'writeback-started', 'writeback-asked', 'writeback-ended', 'writeback-outcome', 'writeback-queued', 'layout-added', 'layout-removed', 'verdict', 'sitting-preview', 'confirmed', 'head-dirty', 'self-test', 'stack', 'set', 'paper-added', 'paper-removed', 'setting-kept', 'rule-added', 'rule-removed', 'scanned', 'related', 'extracted', 'blocks', 'device', 'memory-card', 'transfer'));--> statement-breakpoint
CREATE INDEX "ledger_kind_index" ON "ledger" USING btree ("kind");--> statement-breakpoint
CREATE INDEX "ledger_station_id_index" ON "ledger" USING btree ("station_id");--> statement-breakpoint
CREATE INDEX "ledger_writeback_id_index" ON "ledger" USING btree ("writeback_id");--> statement-breakpoint
ALTER TABLE "lots" ADD CONSTRAINT "lots_sweep" CHECK ("lots"."sweep" in ('inward', 'outward'));--> statement-breakpoint
ALTER TABLE "media" ADD CONSTRAINT "media_density" CHECK ("media"."density" in ('double', 'high'));--> statement-breakpoint
ALTER TABLE "media" ADD CONSTRAINT "media_form" CHECK ("media"."form" in ('3.5', '5.25', '8', 'hard-disk', 'optical-disc'));--> statement-breakpoint
CREATE INDEX "media_lot_index" ON "media" USING btree ("lot");--> statement-breakpoint
ALTER TABLE "media" ADD CONSTRAINT "media_recorded_side" CHECK ("media"."recorded_side" in ('not-said', 'both', 'label', 'back'));--> statement-breakpoint
CREATE INDEX "media_registered_by_index" ON "media" USING btree ("registered_by");--> statement-breakpoint
CREATE INDEX "media_set_name_index" ON "media" USING btree ("set_name");--> statement-breakpoint
ALTER TABLE "relations" ADD CONSTRAINT "relations_kind" CHECK ("relations"."kind" in ('copy-of', 'not-the-same'));--> statement-breakpoint
ALTER TABLE "self_tests" ADD CONSTRAINT "self_tests_state" CHECK ("self_tests"."state" in ('waiting', 'reading', 'held', 'done', 'failed'));--> statement-breakpoint
CREATE INDEX "sittings_open" ON "sittings" USING btree ("station_id") WHERE "sittings"."ended_at" is null;--> statement-breakpoint
ALTER TABLE "sittings" ADD CONSTRAINT "sittings_requested_action" CHECK ("sittings"."requested_action" in ('pause', 'stop'));--> statement-breakpoint
ALTER TABLE "sittings" ADD CONSTRAINT "sittings_state" CHECK ("sittings"."state" in ('waiting', 'reading', 'asks', 'dirty', 'paused', 'held', 'settling', 'done', 'failed'));--> statement-breakpoint
ALTER TABLE "stacks" ADD CONSTRAINT "stacks_awaits" CHECK ("stacks"."awaits" in ('out', 'in'));--> statement-breakpoint
CREATE INDEX "stacks_open" ON "stacks" USING btree ("station_id") WHERE "stacks"."ended_at" is null;--> statement-breakpoint
ALTER TABLE "stations" ADD CONSTRAINT "stations_form" CHECK ("stations"."form" in ('3.5', '5.25', '8', 'hard-disk', 'optical-disc'));--> statement-breakpoint
CREATE INDEX "transfers_fair_copy_id_index" ON "transfers" USING btree ("fair_copy_id");--> statement-breakpoint
ALTER TABLE "transfers" ADD CONSTRAINT "transfers_state" CHECK ("transfers"."state" in ('waiting', 'typing', 'sending', 'held', 'done', 'failed'));--> statement-breakpoint
CREATE INDEX "transfers_state_index" ON "transfers" USING btree ("state");--> statement-breakpoint
CREATE INDEX "uploads_blob_id_index" ON "uploads" USING btree ("blob_id");--> statement-breakpoint
ALTER TABLE "uploads" ADD CONSTRAINT "uploads_state" CHECK ("uploads"."state" in ('coming', 'waiting', 'taking-in', 'done', 'refused'));--> statement-breakpoint
CREATE INDEX "uploads_state_index" ON "uploads" USING btree ("state");--> statement-breakpoint
ALTER TABLE "verdicts" ADD CONSTRAINT "verdicts_verdict" CHECK ("verdicts"."verdict" in ('as-made', 'damage'));--> statement-breakpoint
ALTER TABLE "volumes" ADD CONSTRAINT "volumes_view" CHECK ("volumes"."view" in ('iso9660', 'joliet', 'rockridge'));--> statement-breakpoint
CREATE INDEX "writeback_queue_fair_copy_id_index" ON "writeback_queue" USING btree ("fair_copy_id");--> statement-breakpoint
ALTER TABLE "writeback_queue" ADD CONSTRAINT "writeback_queue_from" CHECK ("writeback_queue"."from" in ('image', 'flux'));--> statement-breakpoint
CREATE INDEX "writebacks_fair_copy_id_index" ON "writebacks" USING btree ("fair_copy_id");--> statement-breakpoint
ALTER TABLE "writebacks" ADD CONSTRAINT "writebacks_from" CHECK ("writebacks"."from" in ('image', 'flux'));--> statement-breakpoint
CREATE INDEX "writebacks_open" ON "writebacks" USING btree ("state") WHERE "writebacks"."state" in ('waiting', 'writing', 'held', 'asks');--> statement-breakpoint
ALTER TABLE "writebacks" ADD CONSTRAINT "writebacks_outcome" CHECK ("writebacks"."outcome" in ('works', 'does-not', 'not-tried'));--> statement-breakpoint
ALTER TABLE "writebacks" ADD CONSTRAINT "writebacks_state" CHECK ("writebacks"."state" in ('waiting', 'writing', 'held', 'asks', 'proved', 'unproved', 'failed'));--> statement-breakpoint
CREATE INDEX "writebacks_station_id_index" ON "writebacks" USING btree ("station_id");--> statement-breakpoint
CREATE INDEX "writebacks_target_id_index" ON "writebacks" USING btree ("target_id");
