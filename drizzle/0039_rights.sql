CREATE TABLE "permits" (
	"id" serial PRIMARY KEY NOT NULL,
	"medium_id" integer NOT NULL,
	"operator_id" integer NOT NULL,
	"recipient" text NOT NULL,
	"reason" text NOT NULL,
	"granted_at" timestamp with time zone DEFAULT now() NOT NULL,
	"ends_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "rights" (
	"id" serial PRIMARY KEY NOT NULL,
	"medium_id" integer,
	"set_name" text,
	"lot_name" text,
	"statement" text DEFAULT '' NOT NULL,
	"words" text DEFAULT '' NOT NULL,
	"is_restricted" boolean DEFAULT false NOT NULL,
	"reason" text DEFAULT '' NOT NULL,
	"opens_on" text DEFAULT '' NOT NULL,
	"is_personal" boolean DEFAULT false NOT NULL,
	CONSTRAINT "rights_mediumId_unique" UNIQUE("medium_id"),
	CONSTRAINT "rights_setName_unique" UNIQUE("set_name"),
	CONSTRAINT "rights_lotName_unique" UNIQUE("lot_name"),
	CONSTRAINT "rights_of_one" CHECK (num_nonnulls("rights"."medium_id", "rights"."set_name", "rights"."lot_name") = 1),
	CONSTRAINT "rights_day" CHECK ("rights"."opens_on" ~ '^(\d{4}-\d{2}-\d{2})?$'),
	CONSTRAINT "rights_restricted" CHECK ("rights"."is_restricted" or ("rights"."reason" = '' and "rights"."opens_on" = ''))
);
--> statement-breakpoint
ALTER TABLE "ledger" DROP CONSTRAINT "ledger_kind";--> statement-breakpoint
ALTER TABLE "permits" ADD CONSTRAINT "permits_medium_id_media_id_fk" FOREIGN KEY ("medium_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "permits" ADD CONSTRAINT "permits_operator_id_operators_id_fk" FOREIGN KEY ("operator_id") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rights" ADD CONSTRAINT "rights_medium_id_media_id_fk" FOREIGN KEY ("medium_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rights" ADD CONSTRAINT "rights_set_name_sets_name_fk" FOREIGN KEY ("set_name") REFERENCES "public"."sets"("name") ON DELETE no action ON UPDATE cascade;--> statement-breakpoint
ALTER TABLE "rights" ADD CONSTRAINT "rights_lot_name_lots_name_fk" FOREIGN KEY ("lot_name") REFERENCES "public"."lots"("name") ON DELETE no action ON UPDATE cascade;--> statement-breakpoint
CREATE INDEX "permits_medium_id_index" ON "permits" USING btree ("medium_id");--> statement-breakpoint
CREATE INDEX "permits_operator_id_index" ON "permits" USING btree ("operator_id");--> statement-breakpoint
ALTER TABLE "ledger" ADD CONSTRAINT "ledger_kind" CHECK ("ledger"."kind" in ('registered', 'described', 'lot', 'lender', 'machine', 'placed', 'removed', 'cleaned', 'sitting-started', 'sitting-paused', 'sitting-resumed', 'sitting-held', 'sitting-stopped', 'track', 'fair-copy', 'taken-in', 'handed-out', 'permitted', 'writeback-started', 'writeback-asked', 'writeback-ended', 'writeback-outcome', 'writeback-queued', 'layout-added', 'layout-removed', 'verdict', 'sitting-preview', 'confirmed', 'head-dirty', 'self-test', 'stack', 'set', 'paper-added', 'paper-removed', 'setting-kept', 'settling-hurried', 'rule-added', 'rule-removed', 'scanned', 'related', 'withdrawn', 'reinstated', 'merged', 'extracted', 'blocks', 'device', 'memory-card', 'transfer', 'fixity'));