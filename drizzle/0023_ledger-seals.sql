CREATE TABLE "ledger_checks" (
	"id" integer PRIMARY KEY DEFAULT 1 NOT NULL,
	"at" timestamp with time zone,
	"entries" bigint NOT NULL,
	"through_id" bigint NOT NULL,
	"digest" text NOT NULL,
	"broken_from" bigint,
	"broken_through" bigint,
	CONSTRAINT "ledger_checks_one_row" CHECK ("ledger_checks"."id" = 1)
);
--> statement-breakpoint
CREATE TABLE "ledger_seals" (
	"id" serial PRIMARY KEY NOT NULL,
	"from_id" bigint NOT NULL,
	"through_id" bigint NOT NULL,
	"entries" integer NOT NULL,
	"digest" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "ledger_seals_throughId_unique" UNIQUE("through_id")
);
--> statement-breakpoint
-- An entry as it is sealed. A migration that changes what entries hold seals them anew.
CREATE FUNCTION ledger_line(entry ledger) RETURNS text LANGUAGE sql STABLE AS $$
  SELECT jsonb_build_array(
    entry.id, (extract(epoch FROM entry.at) * 1000000)::bigint, entry.operator_id, entry.kind,
    entry.medium_id, entry.station_id, entry.sitting_id, entry.writeback_id, entry.what,
    entry.json_shape)::text
$$;
--> statement-breakpoint
-- Seals the entries behind the last seal, so many at the most, and gives how many they are. As its
-- owner: the application's role may call it, and write nothing there itself.
CREATE FUNCTION seal_ledger(most integer) RETURNS integer
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
  before_id bigint := 0;
  before_digest bytea := '';
  sealed integer;
  last_id bigint;
  digests bytea;
BEGIN
  -- Whoever writes an entry just now may have a lower number than one that is there: later, then.
  LOCK TABLE ledger IN SHARE ROW EXCLUSIVE MODE NOWAIT;
  SELECT through_id, decode(digest, 'hex') INTO before_id, before_digest
    FROM ledger_seals ORDER BY through_id DESC LIMIT 1;
  before_id := coalesce(before_id, 0);
  SELECT count(*), max(id),
      string_agg(sha256(convert_to(ledger_line(entry), 'UTF8')), ''::bytea ORDER BY id)
    INTO sealed, last_id, digests
    FROM (SELECT id, entry FROM ledger entry WHERE id > before_id ORDER BY id
      LIMIT greatest(1, least(most, 10000))) behind;
  IF sealed > 0 THEN
    INSERT INTO ledger_seals (from_id, through_id, entries, digest) VALUES (before_id + 1, last_id,
      sealed, encode(sha256(coalesce(before_digest, '') || digests), 'hex'));
  END IF;
  RETURN sealed;
END
$$;
--> statement-breakpoint
REVOKE ALL ON FUNCTION seal_ledger(integer) FROM PUBLIC;
