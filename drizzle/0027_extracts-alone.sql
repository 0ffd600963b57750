ALTER TABLE "extracts" ADD COLUMN "is_alone" boolean DEFAULT false NOT NULL;--> statement-breakpoint
UPDATE "extracts" SET "is_alone" = true
WHERE "what" = 'images' AND "packed" AND jsonb_array_length("fair_copy_ids") = 1;
