-- What the search needs of every medium that is kept, a row each, kept by triggers.
CREATE TABLE "holdings" (
	"medium_id" integer PRIMARY KEY NOT NULL,
	"copy_id" integer NOT NULL,
	"code" text NOT NULL,
	"described" text NOT NULL,
	"sha256" text NOT NULL,
	"form" text NOT NULL,
	"layout" text NOT NULL,
	"lender" text NOT NULL,
	"lot" text NOT NULL,
	"filesystems" text[] NOT NULL,
	"states" text[] NOT NULL,
	"volumes" jsonb NOT NULL,
	"file_count" integer NOT NULL
);
--> statement-breakpoint
ALTER TABLE "holdings" ADD CONSTRAINT "holdings_medium_id_media_id_fk" FOREIGN KEY ("medium_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "holdings" ADD CONSTRAINT "holdings_copy_id_fair_copies_id_fk" FOREIGN KEY ("copy_id") REFERENCES "public"."fair_copies"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "holdings_code_index" ON "holdings" USING btree ("code");--> statement-breakpoint
CREATE INDEX "holdings_copy_id_index" ON "holdings" USING btree ("copy_id");--> statement-breakpoint
CREATE INDEX "holdings_sha256_index" ON "holdings" USING btree ("sha256");--> statement-breakpoint
CREATE INDEX "holdings_described" ON "holdings" USING gin ("described" gin_trgm_ops);--> statement-breakpoint
CREATE FUNCTION refresh_holdings(ids integer[]) RETURNS void LANGUAGE sql AS $$
  INSERT INTO holdings (medium_id, copy_id, code, described, sha256, form, layout, lender, lot, filesystems, states, volumes, file_count)
  SELECT m.id, c.id, m.code,
    lower(concat_ws(' ', m.code, m.title, m.label_text, m.lender, m.lot, m.set_name, c.source_name, c.image_sha256, v.labels)),
    c.image_sha256, m.form, coalesce(c.layout, 'not known'), coalesce(nullif(m.lender, ''), 'not known'), coalesce(nullif(m.lot, ''), 'none'),
    coalesce(v.filesystems, ARRAY['none found']),
    array_remove(ARRAY[
      CASE WHEN c.tally IS NULL THEN 'flat image'
        WHEN coalesce((c.tally->>'doubtful')::bigint, 0) + coalesce((c.tally->>'lost')::bigint, 0) + coalesce((c.tally->>'unread')::bigint, 0) > 0 THEN 'in doubt'
        ELSE 'sound' END,
      CASE WHEN EXISTS (SELECT 1 FROM findings f WHERE f.fair_copy_id = c.id) THEN 'in quarantine' END,
      CASE WHEN EXISTS (SELECT 1 FROM fair_copies o WHERE o.image_sha256 = c.image_sha256 AND o.medium_id <> m.id) THEN 'held twice' END,
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
  WHERE m.id = ANY (ids)
  ON CONFLICT (medium_id) DO UPDATE SET copy_id = excluded.copy_id, code = excluded.code, described = excluded.described, sha256 = excluded.sha256,
    form = excluded.form, layout = excluded.layout, lender = excluded.lender, lot = excluded.lot, filesystems = excluded.filesystems,
    states = excluded.states, volumes = excluded.volumes, file_count = excluded.file_count
$$;--> statement-breakpoint
CREATE FUNCTION holdings_changed() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE ids integer[];
BEGIN
  CASE TG_TABLE_NAME
    WHEN 'media' THEN SELECT array_agg(id) INTO ids FROM changed;
    WHEN 'fair_copies' THEN
      SELECT array_agg(touched.id) INTO ids FROM (
        SELECT medium_id AS id FROM changed
        UNION SELECT f.medium_id FROM changed c JOIN fair_copies f ON f.image_sha256 = c.image_sha256) AS touched;
    WHEN 'relations' THEN SELECT array_agg(medium_id) INTO ids FROM changed;
    ELSE SELECT array_agg(DISTINCT f.medium_id) INTO ids FROM changed c JOIN fair_copies f ON f.id = c.fair_copy_id;
  END CASE;
  IF ids IS NOT NULL THEN PERFORM refresh_holdings(ids); END IF;
  RETURN NULL;
END $$;--> statement-breakpoint
CREATE TRIGGER holdings_of_media AFTER UPDATE ON media REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION holdings_changed();--> statement-breakpoint
CREATE TRIGGER holdings_of_copies_new AFTER INSERT ON fair_copies REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION holdings_changed();--> statement-breakpoint
CREATE TRIGGER holdings_of_copies_changed AFTER UPDATE ON fair_copies REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION holdings_changed();--> statement-breakpoint
CREATE TRIGGER holdings_of_volumes_new AFTER INSERT ON volumes REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION holdings_changed();--> statement-breakpoint
CREATE TRIGGER holdings_of_volumes_changed AFTER UPDATE ON volumes REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION holdings_changed();--> statement-breakpoint
CREATE TRIGGER holdings_of_findings_new AFTER INSERT ON findings REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION holdings_changed();--> statement-breakpoint
CREATE TRIGGER holdings_of_findings_gone AFTER DELETE ON findings REFERENCING OLD TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION holdings_changed();--> statement-breakpoint
CREATE TRIGGER holdings_of_relations_new AFTER INSERT ON relations REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION holdings_changed();--> statement-breakpoint
CREATE TRIGGER holdings_of_relations_gone AFTER DELETE ON relations REFERENCING OLD TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION holdings_changed();--> statement-breakpoint
SELECT refresh_holdings((SELECT array_agg(DISTINCT medium_id) FROM fair_copies));
