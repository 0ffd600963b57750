CREATE TABLE "media_out" (
	"medium_id" integer PRIMARY KEY NOT NULL,
	"receipt_id" integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE "receipt_media" (
	"receipt_id" integer NOT NULL,
	"medium_id" integer NOT NULL,
	CONSTRAINT "receipt_media_receipt_id_medium_id_pk" PRIMARY KEY("receipt_id","medium_id")
);
--> statement-breakpoint
CREATE TABLE "receipts" (
	"id" serial PRIMARY KEY NOT NULL,
	"kind" text NOT NULL,
	"day" text NOT NULL,
	"person" text NOT NULL,
	"back_by" text DEFAULT '' NOT NULL,
	"notes" text DEFAULT '' NOT NULL,
	"lenders" text NOT NULL,
	"blob_id" uuid NOT NULL,
	"sha256" text NOT NULL,
	"bytes" integer NOT NULL,
	"made_by" integer NOT NULL,
	"made_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "receipts_kind" CHECK ("receipts"."kind" in ('arrived', 'handed-back', 'sent-out', 'came-back')),
	CONSTRAINT "receipts_back_by" CHECK ("receipts"."back_by" = '' or "receipts"."kind" = 'sent-out')
);
--> statement-breakpoint
ALTER TABLE "ledger" DROP CONSTRAINT "ledger_kind";--> statement-breakpoint
ALTER TABLE "media" ADD COLUMN "shelf" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "media_out" ADD CONSTRAINT "media_out_medium_id_media_id_fk" FOREIGN KEY ("medium_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "media_out" ADD CONSTRAINT "media_out_receipt_id_receipts_id_fk" FOREIGN KEY ("receipt_id") REFERENCES "public"."receipts"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "receipt_media" ADD CONSTRAINT "receipt_media_receipt_id_receipts_id_fk" FOREIGN KEY ("receipt_id") REFERENCES "public"."receipts"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "receipt_media" ADD CONSTRAINT "receipt_media_medium_id_media_id_fk" FOREIGN KEY ("medium_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "receipts" ADD CONSTRAINT "receipts_blob_id_blobs_id_fk" FOREIGN KEY ("blob_id") REFERENCES "public"."blobs"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "receipts" ADD CONSTRAINT "receipts_made_by_operators_id_fk" FOREIGN KEY ("made_by") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "media_out_receipt_id_index" ON "media_out" USING btree ("receipt_id");--> statement-breakpoint
CREATE INDEX "receipt_media_medium_id_index" ON "receipt_media" USING btree ("medium_id");--> statement-breakpoint
CREATE INDEX "receipts_blob_id_index" ON "receipts" USING btree ("blob_id");--> statement-breakpoint
CREATE INDEX "receipts_made_by_index" ON "receipts" USING btree ("made_by");--> statement-breakpoint
ALTER TABLE "ledger" ADD CONSTRAINT "ledger_kind" CHECK ("ledger"."kind" in ('registered', 'described', 'lot', 'lender', 'machine', 'placed', 'removed', 'cleaned', 'sitting-started', 'sitting-paused', 'sitting-resumed', 'sitting-held', 'sitting-stopped', 'track', 'fair-copy', 'taken-in', 'handed-out', 'permitted', 'parcel', 'writeback-started', 'writeback-asked', 'writeback-ended', 'writeback-outcome', 'writeback-queued', 'layout-added', 'layout-removed', 'verdict', 'sitting-preview', 'confirmed', 'head-dirty', 'self-test', 'stack', 'set', 'paper-added', 'paper-removed', 'setting-kept', 'settling-hurried', 'rule-added', 'rule-removed', 'scanned', 'related', 'withdrawn', 'reinstated', 'merged', 'extracted', 'blocks', 'device', 'memory-card', 'transfer', 'fixity', 'elsewhere', 'arrived', 'handed-back', 'sent-out', 'came-back'));