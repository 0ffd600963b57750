CREATE TABLE "parcel_media" (
	"parcel_id" integer NOT NULL,
	"medium_id" integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE "parcel_sendings" (
	"id" serial PRIMARY KEY NOT NULL,
	"parcel_id" integer NOT NULL,
	"sent_by" integer NOT NULL,
	"sent_at" timestamp with time zone DEFAULT now() NOT NULL,
	"bytes" bigint NOT NULL,
	"files" integer NOT NULL,
	"seconds" integer NOT NULL,
	"manifest_sha256" text NOT NULL,
	"manifest" jsonb NOT NULL,
	"json_shape" smallint DEFAULT 1 NOT NULL,
	CONSTRAINT "parcel_sendings_bytes" CHECK ("parcel_sendings"."bytes" >= 0)
);
--> statement-breakpoint
CREATE TABLE "parcels" (
	"id" serial PRIMARY KEY NOT NULL,
	"title" text NOT NULL,
	"recipient" text NOT NULL,
	"notes" text DEFAULT '' NOT NULL,
	"with_flux" boolean NOT NULL,
	"with_files" boolean NOT NULL,
	"acknowledges_quarantine" boolean DEFAULT false NOT NULL,
	"made_by" integer NOT NULL,
	"made_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "ledger" DROP CONSTRAINT "ledger_kind";--> statement-breakpoint
ALTER TABLE "parcel_media" ADD CONSTRAINT "parcel_media_parcel_id_parcels_id_fk" FOREIGN KEY ("parcel_id") REFERENCES "public"."parcels"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "parcel_media" ADD CONSTRAINT "parcel_media_medium_id_media_id_fk" FOREIGN KEY ("medium_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "parcel_sendings" ADD CONSTRAINT "parcel_sendings_parcel_id_parcels_id_fk" FOREIGN KEY ("parcel_id") REFERENCES "public"."parcels"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "parcel_sendings" ADD CONSTRAINT "parcel_sendings_sent_by_operators_id_fk" FOREIGN KEY ("sent_by") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "parcels" ADD CONSTRAINT "parcels_made_by_operators_id_fk" FOREIGN KEY ("made_by") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "parcel_media_parcel_id_index" ON "parcel_media" USING btree ("parcel_id");--> statement-breakpoint
CREATE INDEX "parcel_media_medium_id_index" ON "parcel_media" USING btree ("medium_id");--> statement-breakpoint
CREATE INDEX "parcel_sendings_parcel_id_index" ON "parcel_sendings" USING btree ("parcel_id");--> statement-breakpoint
CREATE INDEX "parcel_sendings_sent_by_index" ON "parcel_sendings" USING btree ("sent_by");--> statement-breakpoint
CREATE INDEX "parcels_made_by_index" ON "parcels" USING btree ("made_by");--> statement-breakpoint
ALTER TABLE "ledger" ADD CONSTRAINT "ledger_kind" CHECK ("ledger"."kind" in ('registered', 'described', 'lot', 'lender', 'machine', 'placed', 'removed', 'cleaned', 'sitting-started', 'sitting-paused', 'sitting-resumed', 'sitting-held', 'sitting-stopped', 'track', 'fair-copy', 'taken-in', 'handed-out', 'permitted', 'parcel', 'writeback-started', 'writeback-asked', 'writeback-ended', 'writeback-outcome', 'writeback-queued', 'layout-added', 'layout-removed', 'verdict', 'sitting-preview', 'confirmed', 'head-dirty', 'self-test', 'stack', 'set', 'paper-added', 'paper-removed', 'setting-kept', 'settling-hurried', 'rule-added', 'rule-removed', 'scanned', 'related', 'withdrawn', 'reinstated', 'merged', 'extracted', 'blocks', 'device', 'memory-card', 'transfer', 'fixity'));