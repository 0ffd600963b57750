ALTER TABLE "assemblies" ADD COLUMN "json_shape" smallint DEFAULT 1 NOT NULL;
--> statement-breakpoint
ALTER TABLE "cards" ADD COLUMN "json_shape" smallint DEFAULT 1 NOT NULL;
--> statement-breakpoint
ALTER TABLE "controller_tracks" ADD COLUMN "json_shape" smallint DEFAULT 1 NOT NULL;
--> statement-breakpoint
ALTER TABLE "extracts" ADD COLUMN "json_shape" smallint DEFAULT 1 NOT NULL;
--> statement-breakpoint
ALTER TABLE "fair_copies" ADD COLUMN "json_shape" smallint DEFAULT 1 NOT NULL;
--> statement-breakpoint
ALTER TABLE "files" ADD COLUMN "json_shape" smallint DEFAULT 1 NOT NULL;
--> statement-breakpoint
ALTER TABLE "holdings" ADD COLUMN "json_shape" smallint DEFAULT 1 NOT NULL;
--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "json_shape" smallint DEFAULT 1 NOT NULL;
--> statement-breakpoint
ALTER TABLE "layouts" ADD COLUMN "json_shape" smallint DEFAULT 1 NOT NULL;
--> statement-breakpoint
ALTER TABLE "ledger" ADD COLUMN "json_shape" smallint DEFAULT 1 NOT NULL;
--> statement-breakpoint
ALTER TABLE "media" ADD COLUMN "json_shape" smallint DEFAULT 1 NOT NULL;
--> statement-breakpoint
ALTER TABLE "self_tests" ADD COLUMN "json_shape" smallint DEFAULT 1 NOT NULL;
--> statement-breakpoint
ALTER TABLE "settlings" ADD COLUMN "json_shape" smallint DEFAULT 1 NOT NULL;
--> statement-breakpoint
ALTER TABLE "signature_rules" ADD COLUMN "json_shape" smallint DEFAULT 1 NOT NULL;
--> statement-breakpoint
ALTER TABLE "sittings" ADD COLUMN "json_shape" smallint DEFAULT 1 NOT NULL;
--> statement-breakpoint
ALTER TABLE "stacks" ADD COLUMN "json_shape" smallint DEFAULT 1 NOT NULL;
--> statement-breakpoint
ALTER TABLE "stations" ADD COLUMN "json_shape" smallint DEFAULT 1 NOT NULL;
--> statement-breakpoint
ALTER TABLE "track_overrides" ADD COLUMN "json_shape" smallint DEFAULT 1 NOT NULL;
--> statement-breakpoint
ALTER TABLE "tracks" ADD COLUMN "json_shape" smallint DEFAULT 1 NOT NULL;
--> statement-breakpoint
ALTER TABLE "transfers" ADD COLUMN "json_shape" smallint DEFAULT 1 NOT NULL;
--> statement-breakpoint
ALTER TABLE "uploads" ADD COLUMN "json_shape" smallint DEFAULT 1 NOT NULL;
--> statement-breakpoint
ALTER TABLE "volumes" ADD COLUMN "json_shape" smallint DEFAULT 1 NOT NULL;
--> statement-breakpoint
ALTER TABLE "writeback_queue" ADD COLUMN "json_shape" smallint DEFAULT 1 NOT NULL;
--> statement-breakpoint
ALTER TABLE "writeback_tracks" ADD COLUMN "json_shape" smallint DEFAULT 1 NOT NULL;
--> statement-breakpoint
ALTER TABLE "writebacks" ADD COLUMN "json_shape" smallint DEFAULT 1 NOT NULL;
