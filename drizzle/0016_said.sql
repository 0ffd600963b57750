-- What is said is kept as a code with parameters from here on. What was said before stays as it was
-- written: a string instead of an object, which tells the two apart.
ALTER TABLE "uploads" ALTER COLUMN "now" DROP DEFAULT;
--> statement-breakpoint
ALTER TABLE "extracts" ALTER COLUMN "now" SET DATA TYPE jsonb USING to_jsonb("now");
--> statement-breakpoint
ALTER TABLE "ledger" ALTER COLUMN "what" SET DATA TYPE jsonb USING to_jsonb("what");
--> statement-breakpoint
ALTER TABLE "self_tests" ALTER COLUMN "now" SET DATA TYPE jsonb USING to_jsonb("now");
--> statement-breakpoint
ALTER TABLE "settlings" ALTER COLUMN "trouble" SET DATA TYPE jsonb USING to_jsonb("trouble");
--> statement-breakpoint
ALTER TABLE "sittings" ALTER COLUMN "now" SET DATA TYPE jsonb USING to_jsonb("now");
--> statement-breakpoint
ALTER TABLE "stacks" ALTER COLUMN "trouble" SET DATA TYPE jsonb USING to_jsonb("trouble");
--> statement-breakpoint
ALTER TABLE "transfers" ALTER COLUMN "now" SET DATA TYPE jsonb USING to_jsonb("now");
--> statement-breakpoint
ALTER TABLE "uploads" ALTER COLUMN "now" SET DATA TYPE jsonb USING to_jsonb("now");
--> statement-breakpoint
ALTER TABLE "uploads" ALTER COLUMN "now" DROP NOT NULL;
--> statement-breakpoint
ALTER TABLE "writeback_queue" ALTER COLUMN "trouble" SET DATA TYPE jsonb USING to_jsonb("trouble");
--> statement-breakpoint
ALTER TABLE "writebacks" ALTER COLUMN "now" SET DATA TYPE jsonb USING to_jsonb("now");
--> statement-breakpoint
ALTER TABLE "sittings" ADD COLUMN "ended_why" jsonb;
--> statement-breakpoint
ALTER TABLE "uploads" ADD COLUMN "came_at" timestamp with time zone DEFAULT now() NOT NULL;
--> statement-breakpoint
UPDATE "fair_copies" SET "problems" = (
  SELECT jsonb_agg((p - 'message') || jsonb_build_object('said', p -> 'message'))
  FROM jsonb_array_elements("problems") p
) WHERE "problems" <> '[]';
--> statement-breakpoint
UPDATE "volumes" SET "problems" = (
  SELECT jsonb_agg((p - 'message') || jsonb_build_object('said', p -> 'message'))
  FROM jsonb_array_elements("problems") p
) WHERE "problems" <> '[]';
