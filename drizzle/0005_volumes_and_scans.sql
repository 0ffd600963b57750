CREATE EXTENSION IF NOT EXISTS pg_trgm;--> statement-breakpoint
CREATE TABLE "file_texts" (
	"sha256" text PRIMARY KEY NOT NULL,
	"body" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "findings" (
	"id" serial PRIMARY KEY NOT NULL,
	"fair_copy_id" integer NOT NULL,
	"rule" text NOT NULL,
	"name" text NOT NULL,
	"note" text NOT NULL,
	"path" text,
	"offset" bigint NOT NULL
);
--> statement-breakpoint
CREATE TABLE "signature_rules" (
	"id" text PRIMARY KEY NOT NULL,
	"rule" jsonb NOT NULL,
	"added_by" integer NOT NULL,
	"added_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "files" ADD COLUMN "type" text;--> statement-breakpoint
ALTER TABLE "findings" ADD CONSTRAINT "findings_fair_copy_id_fair_copies_id_fk" FOREIGN KEY ("fair_copy_id") REFERENCES "public"."fair_copies"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "signature_rules" ADD CONSTRAINT "signature_rules_added_by_operators_id_fk" FOREIGN KEY ("added_by") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "file_texts_words" ON "file_texts" USING gin (to_tsvector('simple', "body"));--> statement-breakpoint
CREATE INDEX "findings_fair_copy_id_index" ON "findings" USING btree ("fair_copy_id");--> statement-breakpoint
CREATE INDEX "files_path_trigrams" ON "files" USING gin ("path" gin_trgm_ops);