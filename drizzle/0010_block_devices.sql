CREATE TABLE "block_extents" (
	"sitting_id" integer NOT NULL,
	"from" bigint NOT NULL,
	"to" bigint NOT NULL,
	"grade" text NOT NULL,
	"tries" integer NOT NULL,
	"group" bigint NOT NULL,
	"pace" integer NOT NULL,
	CONSTRAINT "block_extents_sitting_id_from_pk" PRIMARY KEY("sitting_id","from")
);
--> statement-breakpoint
CREATE TABLE "block_readings" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"sitting_id" integer NOT NULL,
	"from" bigint NOT NULL,
	"count" integer NOT NULL,
	"got" integer NOT NULL,
	"pass" integer NOT NULL,
	"speed" real,
	"ms" real NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "uploads" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"number" serial NOT NULL,
	"blob_id" uuid,
	"name" text NOT NULL,
	"size" bigint NOT NULL,
	"about" jsonb NOT NULL,
	"state" text NOT NULL,
	"now" text DEFAULT '' NOT NULL,
	"code" text,
	"started_by" integer NOT NULL,
	"started_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "uploads_number_unique" UNIQUE("number")
);
--> statement-breakpoint
ALTER TABLE "blobs" ADD COLUMN "sparse" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "extracts" ADD COLUMN "what" text DEFAULT 'files' NOT NULL;--> statement-breakpoint
ALTER TABLE "extracts" ADD COLUMN "packed" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "fair_copies" ADD COLUMN "blocks" jsonb;--> statement-breakpoint
ALTER TABLE "fair_copies" ADD COLUMN "finding" jsonb;--> statement-breakpoint
ALTER TABLE "media" ADD COLUMN "origin" jsonb;--> statement-breakpoint
ALTER TABLE "sittings" ADD COLUMN "device" jsonb;--> statement-breakpoint
ALTER TABLE "sittings" ADD COLUMN "block_policy" jsonb;--> statement-breakpoint
ALTER TABLE "sittings" ADD COLUMN "block_preview" jsonb;--> statement-breakpoint
ALTER TABLE "sittings" ADD COLUMN "health_after" jsonb;--> statement-breakpoint
ALTER TABLE "block_extents" ADD CONSTRAINT "block_extents_sitting_id_sittings_id_fk" FOREIGN KEY ("sitting_id") REFERENCES "public"."sittings"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "block_readings" ADD CONSTRAINT "block_readings_sitting_id_sittings_id_fk" FOREIGN KEY ("sitting_id") REFERENCES "public"."sittings"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "uploads" ADD CONSTRAINT "uploads_blob_id_blobs_id_fk" FOREIGN KEY ("blob_id") REFERENCES "public"."blobs"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "uploads" ADD CONSTRAINT "uploads_started_by_operators_id_fk" FOREIGN KEY ("started_by") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "block_readings_sitting_id_from_index" ON "block_readings" USING btree ("sitting_id","from");--> statement-breakpoint
ALTER TABLE "blob_chunks" ALTER COLUMN "bytes" SET STORAGE EXTERNAL;
