CREATE TABLE "lots" (
	"name" text PRIMARY KEY NOT NULL,
	"lender" text DEFAULT '' NOT NULL,
	"came_in" text DEFAULT '' NOT NULL,
	"return_by" text DEFAULT '' NOT NULL,
	"revolutions" integer DEFAULT 2 NOT NULL,
	"tries" integer DEFAULT 6 NOT NULL
);
--> statement-breakpoint
ALTER TABLE "media" ADD COLUMN "marks" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "media" ADD COLUMN "treat_first" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "media" ADD COLUMN "write_protected" boolean DEFAULT false NOT NULL;--> statement-breakpoint
INSERT INTO "lots" ("name", "lender") SELECT "lot", max("lender") FROM "media" WHERE "lot" <> '' AND NOT "is_blank" GROUP BY "lot" ON CONFLICT DO NOTHING;
