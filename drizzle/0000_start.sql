CREATE TABLE "blob_chunks" (
	"blob_id" uuid NOT NULL,
	"seq" integer NOT NULL,
	"bytes" "bytea" NOT NULL,
	CONSTRAINT "blob_chunks_blob_id_seq_pk" PRIMARY KEY("blob_id","seq")
);
--> statement-breakpoint
CREATE TABLE "blobs" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"state" text NOT NULL,
	"size" bigint DEFAULT 0 NOT NULL,
	"sha256" text,
	"same_as" uuid
);
--> statement-breakpoint
CREATE TABLE "fair_copies" (
	"id" serial PRIMARY KEY NOT NULL,
	"medium_id" integer NOT NULL,
	"source" text NOT NULL,
	"source_name" text,
	"layout" text,
	"image_blob" uuid NOT NULL,
	"card_blob" uuid,
	"capture_blob" uuid,
	"image_sha256" text NOT NULL,
	"image_bytes" bigint NOT NULL,
	"tally" jsonb,
	"problems" jsonb NOT NULL,
	"surface" jsonb,
	"made_by" integer NOT NULL,
	"made_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "files" (
	"id" serial PRIMARY KEY NOT NULL,
	"volume_id" integer NOT NULL,
	"position" integer NOT NULL,
	"path" text NOT NULL,
	"recorded_name" text NOT NULL,
	"kind" text NOT NULL,
	"bytes" bigint NOT NULL,
	"sha256" text,
	"modified" text,
	"locked" boolean NOT NULL,
	"deleted" boolean NOT NULL,
	"recoverable" text,
	"damaged" boolean NOT NULL,
	"extents" jsonb NOT NULL,
	"sectors_in_doubt" integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE "jobs" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"kind" text NOT NULL,
	"subject" integer NOT NULL,
	"station_id" integer,
	"state" text NOT NULL,
	"epoch" integer DEFAULT 0 NOT NULL,
	"error" text,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "ledger" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"operator_id" integer NOT NULL,
	"kind" text NOT NULL,
	"medium_id" integer,
	"station_id" integer,
	"sitting_id" integer,
	"return_id" integer,
	"what" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "media" (
	"id" serial PRIMARY KEY NOT NULL,
	"code" text NOT NULL,
	"form" text NOT NULL,
	"title" text NOT NULL,
	"label_text" text NOT NULL,
	"lender" text NOT NULL,
	"lot" text NOT NULL,
	"condition" text NOT NULL,
	"is_blank" boolean DEFAULT false NOT NULL,
	"registered_at" timestamp with time zone DEFAULT now() NOT NULL,
	"registered_by" integer NOT NULL,
	CONSTRAINT "media_code_unique" UNIQUE("code")
);
--> statement-breakpoint
CREATE TABLE "operators" (
	"id" serial PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	CONSTRAINT "operators_name_unique" UNIQUE("name")
);
--> statement-breakpoint
CREATE TABLE "return_tracks" (
	"return_id" integer NOT NULL,
	"cylinder" integer NOT NULL,
	"head" integer NOT NULL,
	"proved" boolean NOT NULL,
	"tries" integer NOT NULL,
	"sectors" jsonb NOT NULL,
	CONSTRAINT "return_tracks_return_id_cylinder_head_pk" PRIMARY KEY("return_id","cylinder","head")
);
--> statement-breakpoint
CREATE TABLE "returns" (
	"id" serial PRIMARY KEY NOT NULL,
	"fair_copy_id" integer NOT NULL,
	"target_id" integer NOT NULL,
	"station_id" integer NOT NULL,
	"state" text NOT NULL,
	"now" text NOT NULL,
	"overwrite" boolean DEFAULT false NOT NULL,
	"started_by" integer NOT NULL,
	"started_at" timestamp with time zone DEFAULT now() NOT NULL,
	"ended_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "sittings" (
	"id" serial PRIMARY KEY NOT NULL,
	"medium_id" integer NOT NULL,
	"station_id" integer NOT NULL,
	"state" text NOT NULL,
	"now" text NOT NULL,
	"wanted" text,
	"policy" jsonb NOT NULL,
	"layout" text,
	"capture_blob" uuid,
	"started_by" integer NOT NULL,
	"started_at" timestamp with time zone DEFAULT now() NOT NULL,
	"ended_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "stations" (
	"id" integer PRIMARY KEY NOT NULL,
	"drive" text NOT NULL,
	"form" text NOT NULL,
	"model" text NOT NULL,
	"serial" text NOT NULL,
	"medium_id" integer,
	"readings_since_cleaning" integer DEFAULT 0 NOT NULL,
	CONSTRAINT "stations_mediumId_unique" UNIQUE("medium_id")
);
--> statement-breakpoint
CREATE TABLE "track_readings" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"sitting_id" integer NOT NULL,
	"cylinder" integer NOT NULL,
	"head" integer NOT NULL,
	"pass" integer NOT NULL,
	"offset" bigint NOT NULL,
	"length" integer NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "tracks" (
	"sitting_id" integer NOT NULL,
	"cylinder" integer NOT NULL,
	"head" integer NOT NULL,
	"progress" jsonb NOT NULL,
	"sectors" jsonb NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "tracks_sitting_id_cylinder_head_pk" PRIMARY KEY("sitting_id","cylinder","head")
);
--> statement-breakpoint
CREATE TABLE "volumes" (
	"id" serial PRIMARY KEY NOT NULL,
	"fair_copy_id" integer NOT NULL,
	"filesystem" text NOT NULL,
	"label" text,
	"partition" integer,
	"offset" bigint NOT NULL,
	"length" bigint NOT NULL,
	"total_bytes" bigint NOT NULL,
	"free_bytes" bigint NOT NULL,
	"reasons" jsonb NOT NULL,
	"problems" jsonb NOT NULL
);
--> statement-breakpoint
ALTER TABLE "blob_chunks" ADD CONSTRAINT "blob_chunks_blob_id_blobs_id_fk" FOREIGN KEY ("blob_id") REFERENCES "public"."blobs"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "fair_copies" ADD CONSTRAINT "fair_copies_medium_id_media_id_fk" FOREIGN KEY ("medium_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "fair_copies" ADD CONSTRAINT "fair_copies_image_blob_blobs_id_fk" FOREIGN KEY ("image_blob") REFERENCES "public"."blobs"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "fair_copies" ADD CONSTRAINT "fair_copies_card_blob_blobs_id_fk" FOREIGN KEY ("card_blob") REFERENCES "public"."blobs"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "fair_copies" ADD CONSTRAINT "fair_copies_capture_blob_blobs_id_fk" FOREIGN KEY ("capture_blob") REFERENCES "public"."blobs"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "fair_copies" ADD CONSTRAINT "fair_copies_made_by_operators_id_fk" FOREIGN KEY ("made_by") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "files" ADD CONSTRAINT "files_volume_id_volumes_id_fk" FOREIGN KEY ("volume_id") REFERENCES "public"."volumes"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "jobs" ADD CONSTRAINT "jobs_station_id_stations_id_fk" FOREIGN KEY ("station_id") REFERENCES "public"."stations"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "ledger" ADD CONSTRAINT "ledger_operator_id_operators_id_fk" FOREIGN KEY ("operator_id") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "ledger" ADD CONSTRAINT "ledger_medium_id_media_id_fk" FOREIGN KEY ("medium_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "ledger" ADD CONSTRAINT "ledger_station_id_stations_id_fk" FOREIGN KEY ("station_id") REFERENCES "public"."stations"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "ledger" ADD CONSTRAINT "ledger_sitting_id_sittings_id_fk" FOREIGN KEY ("sitting_id") REFERENCES "public"."sittings"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "ledger" ADD CONSTRAINT "ledger_return_id_returns_id_fk" FOREIGN KEY ("return_id") REFERENCES "public"."returns"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "media" ADD CONSTRAINT "media_registered_by_operators_id_fk" FOREIGN KEY ("registered_by") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "return_tracks" ADD CONSTRAINT "return_tracks_return_id_returns_id_fk" FOREIGN KEY ("return_id") REFERENCES "public"."returns"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "returns" ADD CONSTRAINT "returns_fair_copy_id_fair_copies_id_fk" FOREIGN KEY ("fair_copy_id") REFERENCES "public"."fair_copies"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "returns" ADD CONSTRAINT "returns_target_id_media_id_fk" FOREIGN KEY ("target_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "returns" ADD CONSTRAINT "returns_station_id_stations_id_fk" FOREIGN KEY ("station_id") REFERENCES "public"."stations"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "returns" ADD CONSTRAINT "returns_started_by_operators_id_fk" FOREIGN KEY ("started_by") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sittings" ADD CONSTRAINT "sittings_medium_id_media_id_fk" FOREIGN KEY ("medium_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sittings" ADD CONSTRAINT "sittings_station_id_stations_id_fk" FOREIGN KEY ("station_id") REFERENCES "public"."stations"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sittings" ADD CONSTRAINT "sittings_capture_blob_blobs_id_fk" FOREIGN KEY ("capture_blob") REFERENCES "public"."blobs"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sittings" ADD CONSTRAINT "sittings_started_by_operators_id_fk" FOREIGN KEY ("started_by") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "stations" ADD CONSTRAINT "stations_medium_id_media_id_fk" FOREIGN KEY ("medium_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "track_readings" ADD CONSTRAINT "track_readings_sitting_id_sittings_id_fk" FOREIGN KEY ("sitting_id") REFERENCES "public"."sittings"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tracks" ADD CONSTRAINT "tracks_sitting_id_sittings_id_fk" FOREIGN KEY ("sitting_id") REFERENCES "public"."sittings"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "volumes" ADD CONSTRAINT "volumes_fair_copy_id_fair_copies_id_fk" FOREIGN KEY ("fair_copy_id") REFERENCES "public"."fair_copies"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "blobs_sha256_index" ON "blobs" USING btree ("sha256");--> statement-breakpoint
CREATE INDEX "fair_copies_medium_id_index" ON "fair_copies" USING btree ("medium_id");--> statement-breakpoint
CREATE INDEX "fair_copies_image_sha256_index" ON "fair_copies" USING btree ("image_sha256");--> statement-breakpoint
CREATE INDEX "files_volume_id_index" ON "files" USING btree ("volume_id");--> statement-breakpoint
CREATE INDEX "files_sha256_index" ON "files" USING btree ("sha256");--> statement-breakpoint
CREATE INDEX "jobs_state_index" ON "jobs" USING btree ("state");--> statement-breakpoint
CREATE INDEX "ledger_medium_id_index" ON "ledger" USING btree ("medium_id");--> statement-breakpoint
CREATE INDEX "ledger_sitting_id_index" ON "ledger" USING btree ("sitting_id");--> statement-breakpoint
CREATE INDEX "sittings_medium_id_index" ON "sittings" USING btree ("medium_id");--> statement-breakpoint
CREATE INDEX "track_readings_sitting_id_cylinder_head_index" ON "track_readings" USING btree ("sitting_id","cylinder","head");--> statement-breakpoint
CREATE INDEX "volumes_fair_copy_id_index" ON "volumes" USING btree ("fair_copy_id");