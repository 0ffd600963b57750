CREATE TABLE "extracts" (
	"id" serial PRIMARY KEY NOT NULL,
	"fair_copy_ids" jsonb NOT NULL,
	"as_text" boolean DEFAULT false NOT NULL,
	"knowing" boolean DEFAULT false NOT NULL,
	"state" text NOT NULL,
	"now" text NOT NULL,
	"files_done" integer DEFAULT 0 NOT NULL,
	"files_in_all" integer DEFAULT 0 NOT NULL,
	"cancelled" boolean DEFAULT false NOT NULL,
	"blob_id" uuid,
	"started_by" integer NOT NULL,
	"started_at" timestamp with time zone DEFAULT now() NOT NULL,
	"ended_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "relations" (
	"medium_id" integer NOT NULL,
	"other_id" integer NOT NULL,
	"kind" text NOT NULL,
	"operator_id" integer NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "relations_medium_id_other_id_pk" PRIMARY KEY("medium_id","other_id")
);
--> statement-breakpoint
CREATE TABLE "track_digests" (
	"fair_copy_id" integer NOT NULL,
	"cylinder" integer NOT NULL,
	"head" integer NOT NULL,
	"digest" text NOT NULL,
	CONSTRAINT "track_digests_fair_copy_id_cylinder_head_pk" PRIMARY KEY("fair_copy_id","cylinder","head")
);
--> statement-breakpoint
DROP INDEX "file_texts_words";--> statement-breakpoint
DROP INDEX "files_path_trigrams";--> statement-breakpoint
ALTER TABLE "file_texts" ADD COLUMN "words" "tsvector" GENERATED ALWAYS AS (to_tsvector('simple', body)) STORED NOT NULL;--> statement-breakpoint
ALTER TABLE "files" ADD COLUMN "path_folded" text GENERATED ALWAYS AS (lower(path)) STORED NOT NULL;--> statement-breakpoint
ALTER TABLE "files" ADD COLUMN "doubts" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "sittings" ADD COLUMN "likeness" jsonb;--> statement-breakpoint
ALTER TABLE "tracks" ADD COLUMN "digest" text;--> statement-breakpoint
ALTER TABLE "volumes" ADD COLUMN "inside" text;--> statement-breakpoint
ALTER TABLE "volumes" ADD COLUMN "file_count" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "extracts" ADD CONSTRAINT "extracts_blob_id_blobs_id_fk" FOREIGN KEY ("blob_id") REFERENCES "public"."blobs"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "extracts" ADD CONSTRAINT "extracts_started_by_operators_id_fk" FOREIGN KEY ("started_by") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "relations" ADD CONSTRAINT "relations_medium_id_media_id_fk" FOREIGN KEY ("medium_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "relations" ADD CONSTRAINT "relations_other_id_media_id_fk" FOREIGN KEY ("other_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "relations" ADD CONSTRAINT "relations_operator_id_operators_id_fk" FOREIGN KEY ("operator_id") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "track_digests" ADD CONSTRAINT "track_digests_fair_copy_id_fair_copies_id_fk" FOREIGN KEY ("fair_copy_id") REFERENCES "public"."fair_copies"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "relations_other_id_index" ON "relations" USING btree ("other_id");--> statement-breakpoint
CREATE INDEX "track_digests_digest_index" ON "track_digests" USING btree ("digest");--> statement-breakpoint
CREATE INDEX "file_texts_words" ON "file_texts" USING gin ("words");--> statement-breakpoint
CREATE INDEX "files_path_trigrams" ON "files" USING gin ("path_folded" gin_trgm_ops);--> statement-breakpoint
UPDATE "volumes" SET "file_count" = (SELECT count(*) FROM "files" f WHERE f."volume_id" = "volumes"."id" AND f."kind" = 'file' AND NOT f."deleted");
