-- Lenders and machines have records of their own; media and lots name them, and are found by them.
-- The search has only what is in use.
CREATE TABLE "lenders" (
	"name" text PRIMARY KEY NOT NULL,
	"contact" text DEFAULT '' NOT NULL,
	"notes" text DEFAULT '' NOT NULL
);
--> statement-breakpoint
CREATE TABLE "machines" (
	"name" text PRIMARY KEY NOT NULL,
	"kind" text DEFAULT '' NOT NULL,
	"identifier" text DEFAULT '' NOT NULL,
	"notes" text DEFAULT '' NOT NULL
);
--> statement-breakpoint
ALTER TABLE "ledger" DROP CONSTRAINT "ledger_kind";--> statement-breakpoint
ALTER TABLE "media" ALTER COLUMN "json_shape" SET DEFAULT 2;--> statement-breakpoint
ALTER TABLE "media" ADD COLUMN "machine" text DEFAULT '' NOT NULL;--> statement-breakpoint
CREATE INDEX "media_lender_index" ON "media" USING btree ("lender");--> statement-breakpoint
CREATE INDEX "media_machine_index" ON "media" USING btree ("machine");--> statement-breakpoint
ALTER TABLE "ledger" ADD CONSTRAINT "ledger_kind" CHECK ("ledger"."kind" in ('registered', 'described', 'lot', 'lender', 'machine', 'placed', 'removed', 'cleaned', 'sitting-started', 'sitting-paused', 'sitting-resumed', 'sitting-held', 'sitting-stopped', 'track', 'fair-copy', 'taken-in', 'handed-out', 'writeback-started', 'writeback-asked', 'writeback-ended', 'writeback-outcome', 'writeback-queued', 'layout-added', 'layout-removed', 'verdict', 'sitting-preview', 'confirmed', 'head-dirty', 'self-test', 'stack', 'set', 'paper-added', 'paper-removed', 'setting-kept', 'settling-hurried', 'rule-added', 'rule-removed', 'scanned', 'related', 'withdrawn', 'reinstated', 'merged', 'extracted', 'blocks', 'device', 'memory-card', 'transfer', 'fixity'));--> statement-breakpoint
CREATE OR REPLACE FUNCTION refresh_holdings(ids integer[]) RETURNS void LANGUAGE sql AS $$
  DELETE FROM holdings h WHERE h.medium_id = ANY (ids) AND (
    EXISTS (SELECT 1 FROM media m WHERE m.id = h.medium_id AND m.withdrawn_at IS NOT NULL)
    OR NOT EXISTS (SELECT 1 FROM fair_copies f WHERE f.medium_id = h.medium_id));
  INSERT INTO holdings (medium_id, copy_id, code, described, sha256, form, layout, lender, lot, filesystems, states, volumes, file_count)
  SELECT m.id, c.id, m.code,
    lower(concat_ws(' ', m.code, m.title, m.label_text, m.lender, m.lot, m.set_name, m.machine, c.source_name, c.image_sha256, v.labels, d.words)),
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
UPDATE "media" SET "json_shape" = 2, "machine" = trim(coalesce("origin"->>'machine', '')),
  "origin" = CASE WHEN coalesce("origin"->>'jumpers', '') || coalesce("origin"->>'notes', '') = '' THEN NULL ELSE "origin" - 'machine' END;--> statement-breakpoint
INSERT INTO "lenders" ("name") SELECT "lender" FROM "media" WHERE "lender" <> '' UNION SELECT "lender" FROM "lots" WHERE "lender" <> '';--> statement-breakpoint
INSERT INTO "machines" ("name") SELECT DISTINCT "machine" FROM "media" WHERE "machine" <> '';
