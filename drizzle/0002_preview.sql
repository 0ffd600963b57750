ALTER TABLE "sittings" ADD COLUMN "unattended" boolean DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE "sittings" ADD COLUMN "preview" jsonb;--> statement-breakpoint
UPDATE "sittings" SET "policy" = ("policy" - 'cylinders' - 'heads') || jsonb_build_object('reach', jsonb_build_object('from', 0, 'to', ("policy"->>'cylinders')::int - 1, 'heads', '[0, 1]'::jsonb, 'step', 1)) WHERE "policy" ? 'cylinders';
