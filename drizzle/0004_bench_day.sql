CREATE TABLE "attachments" (
	"id" serial PRIMARY KEY NOT NULL,
	"medium_id" integer,
	"set_name" text,
	"name" text NOT NULL,
	"type" text NOT NULL,
	"blob_id" uuid NOT NULL,
	"bytes" integer NOT NULL,
	"sha256" text NOT NULL,
	"added_by" integer NOT NULL,
	"added_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "kept_settings" (
	"medium_id" integer NOT NULL,
	"cylinder" integer NOT NULL,
	"head" integer NOT NULL,
	"setting" jsonb NOT NULL,
	"reason" text NOT NULL,
	"operator_id" integer NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "kept_settings_medium_id_cylinder_head_pk" PRIMARY KEY("medium_id","cylinder","head")
);
--> statement-breakpoint
CREATE TABLE "self_tests" (
	"id" serial PRIMARY KEY NOT NULL,
	"station_id" integer NOT NULL,
	"medium_id" integer NOT NULL,
	"state" text NOT NULL,
	"now" text NOT NULL,
	"result" jsonb,
	"started_by" integer NOT NULL,
	"started_at" timestamp with time zone DEFAULT now() NOT NULL,
	"ended_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "sets" (
	"name" text PRIMARY KEY NOT NULL,
	"members" integer
);
--> statement-breakpoint
CREATE TABLE "stacks" (
	"id" serial PRIMARY KEY NOT NULL,
	"station_id" integer NOT NULL,
	"codes" jsonb NOT NULL,
	"begun" integer DEFAULT 0 NOT NULL,
	"awaits" text NOT NULL,
	"started_by" integer NOT NULL,
	"started_at" timestamp with time zone DEFAULT now() NOT NULL,
	"ended_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "told_tracks" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"sitting_id" integer NOT NULL,
	"cylinder" integer NOT NULL,
	"head" integer NOT NULL,
	"pass" integer NOT NULL,
	"told" jsonb NOT NULL,
	"data" "bytea" NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "lots" ADD COLUMN "sweep" text DEFAULT 'inward' NOT NULL;--> statement-breakpoint
ALTER TABLE "lots" ADD COLUMN "gentle" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "media" ADD COLUMN "is_reference" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "media" ADD COLUMN "recorded_side" text DEFAULT 'not-said' NOT NULL;--> statement-breakpoint
ALTER TABLE "media" ADD COLUMN "set_name" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "media" ADD COLUMN "set_number" integer;--> statement-breakpoint
ALTER TABLE "sittings" ADD COLUMN "head_asked_after" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "stations" ADD COLUMN "abilities" jsonb;--> statement-breakpoint
ALTER TABLE "stations" ADD COLUMN "shedding_since_cleaning" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "stations" ADD COLUMN "confirmed_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "attachments" ADD CONSTRAINT "attachments_medium_id_media_id_fk" FOREIGN KEY ("medium_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "attachments" ADD CONSTRAINT "attachments_set_name_sets_name_fk" FOREIGN KEY ("set_name") REFERENCES "public"."sets"("name") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "attachments" ADD CONSTRAINT "attachments_blob_id_blobs_id_fk" FOREIGN KEY ("blob_id") REFERENCES "public"."blobs"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "attachments" ADD CONSTRAINT "attachments_added_by_operators_id_fk" FOREIGN KEY ("added_by") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "kept_settings" ADD CONSTRAINT "kept_settings_medium_id_media_id_fk" FOREIGN KEY ("medium_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "kept_settings" ADD CONSTRAINT "kept_settings_operator_id_operators_id_fk" FOREIGN KEY ("operator_id") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "self_tests" ADD CONSTRAINT "self_tests_station_id_stations_id_fk" FOREIGN KEY ("station_id") REFERENCES "public"."stations"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "self_tests" ADD CONSTRAINT "self_tests_medium_id_media_id_fk" FOREIGN KEY ("medium_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "self_tests" ADD CONSTRAINT "self_tests_started_by_operators_id_fk" FOREIGN KEY ("started_by") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "stacks" ADD CONSTRAINT "stacks_station_id_stations_id_fk" FOREIGN KEY ("station_id") REFERENCES "public"."stations"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "stacks" ADD CONSTRAINT "stacks_started_by_operators_id_fk" FOREIGN KEY ("started_by") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "told_tracks" ADD CONSTRAINT "told_tracks_sitting_id_sittings_id_fk" FOREIGN KEY ("sitting_id") REFERENCES "public"."sittings"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "attachments_medium_id_index" ON "attachments" USING btree ("medium_id");--> statement-breakpoint
CREATE INDEX "attachments_set_name_index" ON "attachments" USING btree ("set_name");--> statement-breakpoint
CREATE INDEX "self_tests_station_id_index" ON "self_tests" USING btree ("station_id");--> statement-breakpoint
CREATE INDEX "stacks_station_id_index" ON "stacks" USING btree ("station_id");--> statement-breakpoint
CREATE INDEX "told_tracks_sitting_id_cylinder_head_index" ON "told_tracks" USING btree ("sitting_id","cylinder","head");--> statement-breakpoint
CREATE INDEX "sittings_station_id_index" ON "sittings" USING btree ("station_id");