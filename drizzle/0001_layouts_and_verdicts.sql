CREATE TABLE "layouts" (
	"id" text PRIMARY KEY NOT NULL,
	"file" jsonb NOT NULL,
	"added_by" integer NOT NULL,
	"added_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "verdicts" (
	"medium_id" integer NOT NULL,
	"cylinder" integer NOT NULL,
	"head" integer NOT NULL,
	"r" integer NOT NULL,
	"verdict" text NOT NULL,
	"what" text NOT NULL,
	"operator_id" integer NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "verdicts_medium_id_cylinder_head_r_pk" PRIMARY KEY("medium_id","cylinder","head","r")
);
--> statement-breakpoint
ALTER TABLE "fair_copies" ADD COLUMN "proposal" jsonb;--> statement-breakpoint
ALTER TABLE "fair_copies" ADD COLUMN "matches" jsonb;--> statement-breakpoint
ALTER TABLE "fair_copies" ADD COLUMN "strange" jsonb;--> statement-breakpoint
ALTER TABLE "returns" ADD COLUMN "from" text DEFAULT 'image' NOT NULL;--> statement-breakpoint
ALTER TABLE "sittings" ADD COLUMN "stepping" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "layouts" ADD CONSTRAINT "layouts_added_by_operators_id_fk" FOREIGN KEY ("added_by") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "verdicts" ADD CONSTRAINT "verdicts_medium_id_media_id_fk" FOREIGN KEY ("medium_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "verdicts" ADD CONSTRAINT "verdicts_operator_id_operators_id_fk" FOREIGN KEY ("operator_id") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;