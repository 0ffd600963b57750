ALTER TABLE "ledger" DROP CONSTRAINT "ledger_kind";--> statement-breakpoint
ALTER TABLE "ledger" ALTER COLUMN "operator_id" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "blob_chunks" ADD COLUMN "digest" "bytea";--> statement-breakpoint
ALTER TABLE "blobs" ADD COLUMN "chunks" integer;--> statement-breakpoint
ALTER TABLE "blobs" ADD COLUMN "checked_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "blobs" ADD COLUMN "damaged_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "blobs" ADD COLUMN "damaged_chunk" integer;--> statement-breakpoint
ALTER TABLE "blobs" ADD COLUMN "due_at" timestamp with time zone;--> statement-breakpoint
CREATE INDEX "blobs_to_check" ON "blobs" USING btree ("due_at","checked_at" NULLS FIRST) WHERE "blobs"."state" = 'sealed';--> statement-breakpoint
CREATE INDEX "blobs_damaged" ON "blobs" USING btree ("damaged_at") WHERE "blobs"."damaged_at" is not null;--> statement-breakpoint
ALTER TABLE "blob_chunks" ADD CONSTRAINT "blob_chunks_digest" CHECK (octet_length("blob_chunks"."digest") = 32);--> statement-breakpoint
ALTER TABLE "ledger" ADD CONSTRAINT "ledger_kind" CHECK ("ledger"."kind" in ('registered', 'described', 'lot', 'placed', 'removed', 'cleaned', 'sitting-started', 'sitting-paused', 'sitting-resumed', 'sitting-held', 'sitting-stopped', 'track', 'fair-copy', 'taken-in', 'handed-out', 'writeback-started', 'writeback-asked', 'writeback-ended', 'writeback-outcome', 'writeback-queued', 'layout-added', 'layout-removed', 'verdict', 'sitting-preview', 'confirmed', 'head-dirty', 'self-test', 'stack', 'set', 'paper-added', 'paper-removed', 'setting-kept', 'rule-added', 'rule-removed', 'scanned', 'related', 'extracted', 'blocks', 'device', 'memory-card', 'transfer', 'fixity'));