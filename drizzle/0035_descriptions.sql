-- What is said of media, sets and lots; the search finds media by it, and by what their sets and lots say.
CREATE TABLE "descriptions" (
	"id" serial PRIMARY KEY NOT NULL,
	"medium_id" integer,
	"set_name" text,
	"lot_name" text,
	"elements" jsonb DEFAULT '{}'::jsonb NOT NULL,
	"acquisition" jsonb,
	"words" text DEFAULT '' NOT NULL,
	"json_shape" smallint DEFAULT 1 NOT NULL,
	CONSTRAINT "descriptions_mediumId_unique" UNIQUE("medium_id"),
	CONSTRAINT "descriptions_setName_unique" UNIQUE("set_name"),
	CONSTRAINT "descriptions_lotName_unique" UNIQUE("lot_name"),
	CONSTRAINT "descriptions_of_one" CHECK (num_nonnulls("descriptions"."medium_id", "descriptions"."set_name", "descriptions"."lot_name") = 1)
);
--> statement-breakpoint
ALTER TABLE "attachments" DROP CONSTRAINT "attachments_set_name_sets_name_fk";
--> statement-breakpoint
ALTER TABLE "attachments" ADD COLUMN "lot_name" text;--> statement-breakpoint
ALTER TABLE "descriptions" ADD CONSTRAINT "descriptions_medium_id_media_id_fk" FOREIGN KEY ("medium_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "descriptions" ADD CONSTRAINT "descriptions_set_name_sets_name_fk" FOREIGN KEY ("set_name") REFERENCES "public"."sets"("name") ON DELETE no action ON UPDATE cascade;--> statement-breakpoint
ALTER TABLE "descriptions" ADD CONSTRAINT "descriptions_lot_name_lots_name_fk" FOREIGN KEY ("lot_name") REFERENCES "public"."lots"("name") ON DELETE no action ON UPDATE cascade;--> statement-breakpoint
CREATE INDEX "descriptions_words" ON "descriptions" USING gin ("words" gin_trgm_ops);--> statement-breakpoint
ALTER TABLE "attachments" ADD CONSTRAINT "attachments_lot_name_lots_name_fk" FOREIGN KEY ("lot_name") REFERENCES "public"."lots"("name") ON DELETE no action ON UPDATE cascade;--> statement-breakpoint
ALTER TABLE "attachments" ADD CONSTRAINT "attachments_set_name_sets_name_fk" FOREIGN KEY ("set_name") REFERENCES "public"."sets"("name") ON DELETE no action ON UPDATE cascade;--> statement-breakpoint
CREATE INDEX "attachments_lot_name_index" ON "attachments" USING btree ("lot_name");--> statement-breakpoint
CREATE OR REPLACE FUNCTION refresh_holdings(ids integer[]) RETURNS void LANGUAGE sql AS $$
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
  LEFT JOIN LATERAL (
    SELECT string_agg(o.words, ' ') AS words FROM descriptions o
    WHERE o.medium_id = m.id OR (m.set_name <> '' AND o.set_name = m.set_name) OR (m.lot <> '' AND o.lot_name = m.lot)) d ON true
  WHERE m.id = ANY (ids)
  ON CONFLICT (medium_id) DO UPDATE SET copy_id = excluded.copy_id, code = excluded.code, described = excluded.described, sha256 = excluded.sha256,
    form = excluded.form, layout = excluded.layout, lender = excluded.lender, lot = excluded.lot, filesystems = excluded.filesystems,
    states = excluded.states, volumes = excluded.volumes, file_count = excluded.file_count
$$;--> statement-breakpoint
CREATE OR REPLACE FUNCTION holdings_changed() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE ids integer[];
BEGIN
  CASE TG_TABLE_NAME
    WHEN 'media' THEN SELECT array_agg(id) INTO ids FROM changed;
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
CREATE TRIGGER holdings_of_descriptions AFTER UPDATE ON descriptions REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION holdings_changed();
