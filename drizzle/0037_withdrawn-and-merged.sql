-- Media that are withdrawn, or were found to be one with another: the search has only what is in use.
ALTER TABLE "ledger" DROP CONSTRAINT "ledger_kind";--> statement-breakpoint
ALTER TABLE "media" ADD COLUMN "withdrawn_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "media" ADD COLUMN "withdrawn_reason" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "media" ADD COLUMN "merged_into_id" integer;--> statement-breakpoint
ALTER TABLE "media" ADD CONSTRAINT "media_merged_into_id_media_id_fk" FOREIGN KEY ("merged_into_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "media_merged_into_id_index" ON "media" USING btree ("merged_into_id") WHERE "media"."merged_into_id" is not null;--> statement-breakpoint
ALTER TABLE "ledger" ADD CONSTRAINT "ledger_kind" CHECK ("ledger"."kind" in ('registered', 'described', 'lot', 'placed', 'removed', 'cleaned', 'sitting-started', 'sitting-paused', 'sitting-resumed', 'sitting-held', 'sitting-stopped', 'track', 'fair-copy', 'taken-in', 'handed-out', 'writeback-started', 'writeback-asked', 'writeback-ended', 'writeback-outcome', 'writeback-queued', 'layout-added', 'layout-removed', 'verdict', 'sitting-preview', 'confirmed', 'head-dirty', 'self-test', 'stack', 'set', 'paper-added', 'paper-removed', 'setting-kept', 'settling-hurried', 'rule-added', 'rule-removed', 'scanned', 'related', 'withdrawn', 'reinstated', 'merged', 'extracted', 'blocks', 'device', 'memory-card', 'transfer', 'fixity'));--> statement-breakpoint
ALTER TABLE "media" ADD CONSTRAINT "media_merged_is_withdrawn" CHECK ("media"."merged_into_id" is null or "media"."withdrawn_at" is not null);--> statement-breakpoint
CREATE OR REPLACE FUNCTION refresh_holdings(ids integer[]) RETURNS void LANGUAGE sql AS $$
  DELETE FROM holdings h WHERE h.medium_id = ANY (ids) AND (
    EXISTS (SELECT 1 FROM media m WHERE m.id = h.medium_id AND m.withdrawn_at IS NOT NULL)
    OR NOT EXISTS (SELECT 1 FROM fair_copies f WHERE f.medium_id = h.medium_id));
  INSERT INTO holdings (medium_id, copy_id, code, described, sha256, form, layout, lender, lot, filesystems, states, volumes, file_count)
  SELECT m.id, c.id, m.code,
    lower(concat_ws(' ', m.code, m.title, m.label_text, m.lender, m.lot, m.set_name, c.source_name, c.image_sha256, v.labels, d.words)),
    c.image_sha256, m.form, coalesce(c.layout, 'not known'), coalesce(nullif(m.lender, ''), 'not known'), coalesce(nullif(m.lot, ''), 'none'),
    coalesce(v.filesystems, ARRAY['none found']),
    array_remove(ARRAY[
      CASE WHEN c.tally IS NULL THEN 'flat image'
        WHEN coalesce((c.tally->>'doubtful')::bigint, 0) + coalesce((c.tally->>'lost')::bigint, 0) + coalesce((c.tally->>'unread')::bigint, 0) > 0 THEN 'in doubt'
        ELSE 'sound' END,
      CASE WHEN EXISTS (SELECT 1 FROM findings f WHERE f.fair_copy_id = c.id) THEN 'in quarantine' END,
      CASE WHEN EXISTS (SELECT 1 FROM fair_copies o JOIN media w ON w.id = o.medium_id WHERE o.image_sha256 = c.image_sha256 AND o.medium_id <> m.id AND w.withdrawn_at IS NULL) THEN 'held twice' END,
      CASE WHEN EXISTS (SELECT 1 FROM relations r WHERE r.medium_id = m.id AND r.kind = 'copy-of') THEN 'a copy' END], NULL),
    coalesce(v.volumes, '[]'), coalesce(v.files, 0)
  FROM media m
  JOIN LATERAL (SELECT * FROM fair_copies f WHERE f.medium_id = m.id ORDER BY f.id DESC LIMIT 1) c ON true
  JOIN LATERAL (
    SELECT string_agg(o.label, ' ') AS labels,
      array_agg(DISTINCT o.filesystem) FILTER (WHERE o.view IS NULL) AS filesystems,
      jsonb_agg(jsonb_build_object('id', o.id, 'filesystem', o.filesystem, 'label', o.label) ORDER BY o."offset", o.id) FILTER (WHERE o.view IS NULL) AS volumes,
      sum(o.file_count) FILTER (WHERE o.view IS NULL)::integer AS files
    FROM volumes o WHERE o.fair_copy_id = c.id) v ON true
  LEFT JOIN LATERAL (
    SELECT string_agg(o.words, ' ') AS words FROM descriptions o
    WHERE o.medium_id = m.id OR (m.set_name <> '' AND o.set_name = m.set_name) OR (m.lot <> '' AND o.lot_name = m.lot)) d ON true
  WHERE m.id = ANY (ids) AND m.withdrawn_at IS NULL
  ON CONFLICT (medium_id) DO UPDATE SET copy_id = excluded.copy_id, code = excluded.code, described = excluded.described, sha256 = excluded.sha256,
    form = excluded.form, layout = excluded.layout, lender = excluded.lender, lot = excluded.lot, filesystems = excluded.filesystems,
    states = excluded.states, volumes = excluded.volumes, file_count = excluded.file_count
$$;--> statement-breakpoint
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
