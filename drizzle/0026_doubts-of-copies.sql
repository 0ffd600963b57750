ALTER TABLE "fair_copies" ADD COLUMN "in_doubt" jsonb;--> statement-breakpoint
-- Of devices that were read block by block a stretch of blocks was counted as one sector.
UPDATE "files" AS f SET "sectors_in_doubt" = (
  SELECT sum(ceil((doubt ->> 'length')::numeric / CASE
    WHEN jsonb_array_length(c."blocks" -> 'tracks') > 0 THEN 2048
    ELSE (c."blocks" ->> 'blockBytes')::numeric
  END))::int
  FROM jsonb_array_elements(f."doubts") AS doubt
)
FROM "volumes" v JOIN "fair_copies" c ON c."id" = v."fair_copy_id"
WHERE v."id" = f."volume_id" AND c."blocks" IS NOT NULL AND jsonb_array_length(f."doubts") > 0;
