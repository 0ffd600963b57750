ALTER TABLE "files" ADD COLUMN "link" text;--> statement-breakpoint
ALTER TABLE "volumes" ADD COLUMN "view" text;