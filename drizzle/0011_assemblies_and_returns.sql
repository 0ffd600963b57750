CREATE TABLE "return_queue" (
	"id" serial PRIMARY KEY NOT NULL,
	"fair_copy_id" integer NOT NULL,
	"station_id" integer NOT NULL,
	"from" text DEFAULT 'image' NOT NULL,
	"machine" text,
	"precompensate" boolean DEFAULT true NOT NULL,
	"trouble" text,
	"started_by" integer NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "assemblies" (
	"id" serial PRIMARY KEY NOT NULL,
	"title" text NOT NULL,
	"kind" text,
	"label" text DEFAULT '' NOT NULL,
	"base_id" integer,
	"edits" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"done" integer DEFAULT 0 NOT NULL,
	"target" text,
	"copy_id" integer,
	"started_by" integer NOT NULL,
	"started_at" timestamp with time zone DEFAULT now() NOT NULL,
	"changed_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "cards" (
	"id" serial PRIMARY KEY NOT NULL,
	"title" text NOT NULL,
	"profile" text NOT NULL,
	"kind" text,
	"settings_name" text DEFAULT '' NOT NULL,
	"template" text DEFAULT '' NOT NULL,
	"images" jsonb NOT NULL,
	"made_by" integer NOT NULL,
	"made_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "files" ADD COLUMN "address" integer;--> statement-breakpoint
ALTER TABLE "media" ADD COLUMN "density" text;--> statement-breakpoint
ALTER TABLE "return_tracks" ADD COLUMN "spread" real;--> statement-breakpoint
ALTER TABLE "returns" ADD COLUMN "machine" text;--> statement-breakpoint
ALTER TABLE "returns" ADD COLUMN "precompensate" boolean DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE "returns" ADD COLUMN "found" jsonb;--> statement-breakpoint
ALTER TABLE "returns" ADD COLUMN "blocks" jsonb;--> statement-breakpoint
ALTER TABLE "returns" ADD COLUMN "cancelled" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "returns" ADD COLUMN "outcome" text;--> statement-breakpoint
ALTER TABLE "returns" ADD COLUMN "outcome_note" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "returns" ADD COLUMN "outcome_by" integer;--> statement-breakpoint
ALTER TABLE "returns" ADD COLUMN "outcome_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "return_queue" ADD CONSTRAINT "return_queue_fair_copy_id_fair_copies_id_fk" FOREIGN KEY ("fair_copy_id") REFERENCES "public"."fair_copies"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "return_queue" ADD CONSTRAINT "return_queue_station_id_stations_id_fk" FOREIGN KEY ("station_id") REFERENCES "public"."stations"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "return_queue" ADD CONSTRAINT "return_queue_started_by_operators_id_fk" FOREIGN KEY ("started_by") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "assemblies" ADD CONSTRAINT "assemblies_base_id_fair_copies_id_fk" FOREIGN KEY ("base_id") REFERENCES "public"."fair_copies"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "assemblies" ADD CONSTRAINT "assemblies_copy_id_fair_copies_id_fk" FOREIGN KEY ("copy_id") REFERENCES "public"."fair_copies"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "assemblies" ADD CONSTRAINT "assemblies_started_by_operators_id_fk" FOREIGN KEY ("started_by") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "cards" ADD CONSTRAINT "cards_made_by_operators_id_fk" FOREIGN KEY ("made_by") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "return_queue_station_id_index" ON "return_queue" USING btree ("station_id");--> statement-breakpoint
CREATE INDEX "assemblies_copy_id_index" ON "assemblies" USING btree ("copy_id");--> statement-breakpoint
ALTER TABLE "returns" ADD CONSTRAINT "returns_outcome_by_operators_id_fk" FOREIGN KEY ("outcome_by") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;