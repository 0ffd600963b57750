CREATE TABLE "transfers" (
	"id" serial PRIMARY KEY NOT NULL,
	"fair_copy_id" integer NOT NULL,
	"line" text NOT NULL,
	"rate" integer NOT NULL,
	"large" boolean DEFAULT false NOT NULL,
	"loader" text DEFAULT '' NOT NULL,
	"typing_rate" integer DEFAULT 10 NOT NULL,
	"line_pause_ms" integer DEFAULT 200 NOT NULL,
	"typed" integer DEFAULT 0 NOT NULL,
	"name_there" text DEFAULT '' NOT NULL,
	"state" text NOT NULL,
	"now" text NOT NULL,
	"progress" jsonb,
	"bytes" integer NOT NULL,
	"repeated" integer DEFAULT 0 NOT NULL,
	"cancelled" boolean DEFAULT false NOT NULL,
	"started_by" integer NOT NULL,
	"started_at" timestamp with time zone DEFAULT now() NOT NULL,
	"ended_at" timestamp with time zone
);
--> statement-breakpoint
ALTER TABLE "transfers" ADD CONSTRAINT "transfers_fair_copy_id_fair_copies_id_fk" FOREIGN KEY ("fair_copy_id") REFERENCES "public"."fair_copies"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "transfers" ADD CONSTRAINT "transfers_started_by_operators_id_fk" FOREIGN KEY ("started_by") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;