CREATE TABLE "sound_rates" (
	"medium_id" integer PRIMARY KEY NOT NULL,
	"rate_hz" integer NOT NULL,
	"set_by" integer NOT NULL,
	"set_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "sound_rates_rate" CHECK ("sound_rates"."rate_hz" between 1 and 1000000)
);
--> statement-breakpoint
ALTER TABLE "sounds" ALTER COLUMN "listed" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "sound_rates" ADD CONSTRAINT "sound_rates_medium_id_media_id_fk" FOREIGN KEY ("medium_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sound_rates" ADD CONSTRAINT "sound_rates_set_by_operators_id_fk" FOREIGN KEY ("set_by") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
-- Files of sound of what is kept already are made findable by the workers, one copy after another.
INSERT INTO "jobs" ("kind", "payload", "subject", "state")
SELECT 'sounds', jsonb_build_object('fairCopyId', "id"), "id", 'waiting'
FROM (
  SELECT DISTINCT "volumes"."fair_copy_id" AS "id" FROM "files"
  JOIN "volumes" ON "volumes"."id" = "files"."volume_id"
  WHERE "files"."kind" = 'file' AND "files"."path_folded" ~ '\.(wav|aiff?|aifc|8svx|svx|iff|au|snd)$'
) AS "copies";
