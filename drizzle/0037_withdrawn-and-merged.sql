-- Media that are withdrawn, or were found to be one with another; 0038 takes them out of the search.
ALTER TABLE "ledger" DROP CONSTRAINT "ledger_kind";--> statement-breakpoint
ALTER TABLE "media" ADD COLUMN "withdrawn_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "media" ADD COLUMN "withdrawn_reason" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "media" ADD COLUMN "merged_into_id" integer;--> statement-breakpoint
ALTER TABLE "media" ADD CONSTRAINT "media_merged_into_id_media_id_fk" FOREIGN KEY ("merged_into_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "media_merged_into_id_index" ON "media" USING btree ("merged_into_id") WHERE "media"."merged_into_id" is not null;--> statement-breakpoint
ALTER TABLE "ledger" ADD CONSTRAINT "ledger_kind" CHECK ("ledger"."kind" in ('registered', 'described', 'lot', 'placed', 'removed', 'cleaned', 'sitting-started', 'sitting-paused', 'sitting-resumed', 'sitting-held', 'sitting-stopped', 'track', 'fair-copy', 'taken-in', 'handed-out', 'writeback-started', 'writeback-asked', 'writeback-ended', 'writeback-outcome', 'writeback-queued', 'layout-added', 'layout-removed', 'verdict', 'sitting-preview', 'confirmed', 'head-dirty', 'self-test', 'stack', 'set', 'paper-added', 'paper-removed', 'setting-kept', 'settling-hurried', 'rule-added', 'rule-removed', 'scanned', 'related', 'withdrawn', 'reinstated', 'merged', 'extracted', 'blocks', 'device', 'memory-card', 'transfer', 'fixity'));--> statement-breakpoint
ALTER TABLE "media" ADD CONSTRAINT "media_merged_is_withdrawn" CHECK ("media"."merged_into_id" is null or "media"."withdrawn_at" is not null);--> statement-breakpoint
CREATE OR REPLACE FUNCTION holdings_changed() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE ids integer[];
BEGIN
  CASE TG_TABLE_NAME
    WHEN 'media' THEN
      SELECT array_agg(touched.id) INTO ids FROM (
        SELECT id FROM changed
        UNION SELECT f.medium_id FROM changed c JOIN was w ON w.id = c.id
          JOIN fair_copies own ON own.medium_id = c.id JOIN fair_copies f ON f.image_sha256 = own.image_sha256
        WHERE c.withdrawn_at IS DISTINCT FROM w.withdrawn_at) AS touched;
    WHEN 'fair_copies' THEN
      SELECT array_agg(touched.id) INTO ids FROM (
        SELECT medium_id AS id FROM changed
        UNION SELECT f.medium_id FROM changed c JOIN fair_copies f ON f.image_sha256 = c.image_sha256) AS touched;
    WHEN 'descriptions' THEN
      SELECT array_agg(m.id) INTO ids FROM changed c JOIN media m
        ON m.id = c.medium_id OR m.set_name = c.set_name OR m.lot = c.lot_name;
    WHEN 'relations' THEN SELECT array_agg(medium_id) INTO ids FROM changed;
    ELSE SELECT array_agg(DISTINCT f.medium_id) INTO ids FROM changed c JOIN fair_copies f ON f.id = c.fair_copy_id;
  END CASE;
  IF ids IS NOT NULL THEN PERFORM refresh_holdings(ids); END IF;
  RETURN NULL;
END $$;--> statement-breakpoint
DROP TRIGGER holdings_of_media ON media;--> statement-breakpoint
CREATE TRIGGER holdings_of_media AFTER UPDATE ON media REFERENCING OLD TABLE AS was NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION holdings_changed();
