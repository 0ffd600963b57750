-- Codes of media in an archive's own scheme: sorted by the numbers in them, counted by what stands
-- around the number, a pattern for each lot.
ALTER TABLE "lots" ADD COLUMN "code_pattern" text DEFAULT '' NOT NULL;--> statement-breakpoint
UPDATE "code_series" SET "series" = "series" || '-#';--> statement-breakpoint
CREATE COLLATION "natural_order" (provider = icu, locale = 'und-u-kn-true');--> statement-breakpoint
ALTER TABLE "media" ALTER COLUMN "code" TYPE text COLLATE "natural_order";--> statement-breakpoint
ALTER TABLE "holdings" ALTER COLUMN "code" TYPE text COLLATE "natural_order";
