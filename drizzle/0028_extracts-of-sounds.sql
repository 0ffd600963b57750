ALTER TABLE "extracts" DROP CONSTRAINT "extracts_what";--> statement-breakpoint
ALTER TABLE "extracts" ADD CONSTRAINT "extracts_what" CHECK ("extracts"."what" in ('files', 'images', 'sounds'));