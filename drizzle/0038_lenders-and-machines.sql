-- Lenders and machines have records of their own; media and lots name them.
CREATE TABLE "lenders" (
	"name" text PRIMARY KEY NOT NULL,
	"contact" text DEFAULT '' NOT NULL,
	"notes" text DEFAULT '' NOT NULL
);
--> statement-breakpoint
CREATE TABLE "machines" (
	"name" text PRIMARY KEY NOT NULL,
	"kind" text DEFAULT '' NOT NULL,
	"identifier" text DEFAULT '' NOT NULL,
	"notes" text DEFAULT '' NOT NULL
);
--> statement-breakpoint
ALTER TABLE "ledger" DROP CONSTRAINT "ledger_kind";--> statement-breakpoint
ALTER TABLE "media" ADD COLUMN "machine" text DEFAULT '' NOT NULL;--> statement-breakpoint
CREATE INDEX "media_lender_index" ON "media" USING btree ("lender");--> statement-breakpoint
CREATE INDEX "media_machine_index" ON "media" USING btree ("machine");--> statement-breakpoint
ALTER TABLE "ledger" ADD CONSTRAINT "ledger_kind" CHECK ("ledger"."kind" in ('registered', 'described', 'lot', 'lender', 'machine', 'placed', 'removed', 'cleaned', 'sitting-started', 'sitting-paused', 'sitting-resumed', 'sitting-held', 'sitting-stopped', 'track', 'fair-copy', 'taken-in', 'handed-out', 'writeback-started', 'writeback-asked', 'writeback-ended', 'writeback-outcome', 'writeback-queued', 'layout-added', 'layout-removed', 'verdict', 'sitting-preview', 'confirmed', 'head-dirty', 'self-test', 'stack', 'set', 'paper-added', 'paper-removed', 'setting-kept', 'settling-hurried', 'rule-added', 'rule-removed', 'scanned', 'related', 'withdrawn', 'reinstated', 'merged', 'extracted', 'blocks', 'device', 'memory-card', 'transfer', 'fixity'));--> statement-breakpoint
UPDATE "media" SET "machine" = trim("origin"->>'machine') WHERE trim(coalesce("origin"->>'machine', '')) <> '';--> statement-breakpoint
UPDATE "media" SET "origin" = CASE WHEN coalesce("origin"->>'jumpers', '') || coalesce("origin"->>'notes', '') = '' THEN NULL ELSE "origin" - 'machine' END WHERE "origin" IS NOT NULL;--> statement-breakpoint
INSERT INTO "lenders" ("name") SELECT "lender" FROM "media" WHERE "lender" <> '' UNION SELECT "lender" FROM "lots" WHERE "lender" <> '';--> statement-breakpoint
INSERT INTO "machines" ("name") SELECT DISTINCT "machine" FROM "media" WHERE "machine" <> '';
