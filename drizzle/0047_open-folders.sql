CREATE TABLE "open_folders" (
	"id" serial PRIMARY KEY NOT NULL,
	"medium_id" integer,
	"lot_name" text,
	"opened_by" integer NOT NULL,
	"opened_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "open_folders_mediumId_unique" UNIQUE("medium_id"),
	CONSTRAINT "open_folders_lotName_unique" UNIQUE("lot_name"),
	CONSTRAINT "open_folders_of_one" CHECK (num_nonnulls("open_folders"."medium_id", "open_folders"."lot_name") = 1)
);
--> statement-breakpoint
ALTER TABLE "ledger" DROP CONSTRAINT "ledger_kind";--> statement-breakpoint
ALTER TABLE "open_folders" ADD CONSTRAINT "open_folders_medium_id_media_id_fk" FOREIGN KEY ("medium_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "open_folders" ADD CONSTRAINT "open_folders_lot_name_lots_name_fk" FOREIGN KEY ("lot_name") REFERENCES "public"."lots"("name") ON DELETE no action ON UPDATE cascade;--> statement-breakpoint
ALTER TABLE "open_folders" ADD CONSTRAINT "open_folders_opened_by_operators_id_fk" FOREIGN KEY ("opened_by") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "open_folders_opened_by_index" ON "open_folders" USING btree ("opened_by");--> statement-breakpoint
ALTER TABLE "ledger" ADD CONSTRAINT "ledger_kind" CHECK ("ledger"."kind" in ('registered', 'described', 'lot', 'lender', 'machine', 'placed', 'removed', 'cleaned', 'sitting-started', 'sitting-paused', 'sitting-resumed', 'sitting-held', 'sitting-stopped', 'track', 'fair-copy', 'taken-in', 'handed-out', 'permitted', 'parcel', 'writeback-started', 'writeback-asked', 'writeback-ended', 'writeback-outcome', 'writeback-queued', 'layout-added', 'layout-removed', 'verdict', 'sitting-preview', 'confirmed', 'head-dirty', 'self-test', 'stack', 'set', 'paper-added', 'paper-removed', 'setting-kept', 'settling-hurried', 'rule-added', 'rule-removed', 'scanned', 'related', 'withdrawn', 'reinstated', 'merged', 'extracted', 'blocks', 'device', 'memory-card', 'transfer', 'fixity', 'elsewhere', 'arrived', 'handed-back', 'sent-out', 'came-back', 'folder-opened', 'folder-closed'));