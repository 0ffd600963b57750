ALTER TABLE "extracts" ADD COLUMN "only" integer[];--> statement-breakpoint
ALTER TABLE "extracts" ADD COLUMN "is_once" boolean DEFAULT false NOT NULL;