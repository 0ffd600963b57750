/**
 * Of whom each row of the database is: of a medium, of the house, or of nobody who would miss it. A
 * test holds this against the schema: a new table is put here.
 */

export const ASSEMBLIES_OF_MEDIUM =
  'coalesce(copy_id, base_id) in (select id from fair_copies where medium_id = $1)';
export const ASSEMBLIES_OF_HOUSE = 'copy_id is null and base_id is null';

const RECEIPTS_OF_MEDIUM = 'select receipt_id from receipt_media where medium_id = $1';

/** What was put on them from elsewhere stands in their changes, as `blob:` and the id. */
export function blobsOfAssemblies(condition: string): string {
  return `select put[1]::uuid from assemblies
    cross join lateral regexp_matches(edits::text, 'blob:([0-9a-f-]{36})', 'g') put
    where ${condition}`;
}

/** With those that hold the same bytes. */
function blobsNamedBy(named: string): string {
  return `id in (with named as (${named}) select id from named
    union select b.same_as from blobs b join named on named.id = b.id)`;
}

/** Rows of a medium `$1`, by table; those of media that were merged are of their own. */
export const ROWS_OF_MEDIUM: Readonly<Record<string, string>> = Object.freeze({
  media: 'id = $1',
  former_codes: 'medium_id = $1',
  attachments: 'medium_id = $1',
  descriptions: 'medium_id = $1',
  rights: 'medium_id = $1',
  permits: 'medium_id = $1',
  verdicts: 'medium_id = $1',
  relations: 'medium_id = $1',
  likenesses: 'medium_id = $1',
  sound_rates: 'medium_id = $1',
  track_overrides: 'medium_id = $1',
  self_tests: 'medium_id = $1',
  settlings: 'medium_id = $1',
  holdings: 'medium_id = $1',
  receipt_media: 'medium_id = $1',
  media_out: 'medium_id = $1',
  receipts: `id in (${RECEIPTS_OF_MEDIUM})`,
  ledger: 'medium_id = $1',
  sittings: 'medium_id = $1',
  ...ofEach('sitting_id in (select id from sittings where medium_id = $1)', [
    ...['tracks', 'track_readings', 'block_extents', 'block_readings', 'controller_tracks'],
  ]),
  fair_copies: 'medium_id = $1',
  ...ofEach('fair_copy_id in (select id from fair_copies where medium_id = $1)', [
    ...['volumes', 'track_digests', 'findings', 'raw_hearings', 'sounds', 'transfers'],
    ...['writebacks', 'writeback_queue'],
  ]),
  assemblies: ASSEMBLIES_OF_MEDIUM,
  files: `volume_id in (select v.id from volumes v
    join fair_copies c on c.id = v.fair_copy_id where c.medium_id = $1)`,
  file_texts: `sha256 in (select f.sha256 from files f join volumes v on v.id = f.volume_id
    join fair_copies c on c.id = v.fair_copy_id where c.medium_id = $1)`,
  ...ofEach(
    `writeback_id in (select w.id from writebacks w
    join fair_copies c on c.id = w.fair_copy_id where c.medium_id = $1)`,
    ['writeback_tracks', 'certificates'],
  ),
  blobs: blobsNamedBy(`
    select unnest(array[image_blob, sidecar_blob, capture_blob]) as id from fair_copies
      where medium_id = $1
    union select capture_blob from sittings where medium_id = $1
    union select blob_id from attachments where medium_id = $1
    union select blob_id from receipts where id in (${RECEIPTS_OF_MEDIUM})
    union ${blobsOfAssemblies(ASSEMBLIES_OF_MEDIUM)}`),
  // What all of these name, so that a medium can be restored without anything else.
  operators: 'true',
  stations: 'true',
  ...Object.fromEntries(
    [
      ['lots', 'lot'],
      ['sets', 'set_name'],
      ['lenders', 'lender'],
      ['machines', 'machine'],
    ].map(([table, column]) => [table, `name = (select ${column} from media where id = $1)`]),
  ),
});

/** Rows of the house: all of a table, or those that are of no medium. */
export const ROWS_OF_HOUSE: Readonly<Record<string, string>> = Object.freeze({
  ...ofEach('true', [
    ...['houses', 'operators', 'stations', 'lots', 'sets', 'lenders', 'machines', 'layouts'],
    ...['signature_rules', 'code_series', 'cards', 'stacks', 'ledger_seals', 'ledger_checks'],
    ...['parcels', 'parcel_media', 'parcel_sendings', 'came_bags', 'came_media'],
    'receipts',
  ]),
  ...ofEach('medium_id is null', ['attachments', 'descriptions', 'rights', 'ledger', 'self_tests']),
  assemblies: ASSEMBLIES_OF_HOUSE,
  blobs: blobsNamedBy(`
    select blob_id as id from attachments where medium_id is null
    union select blob_id from came_bags
    union select blob_id from receipts
    union ${blobsOfAssemblies(ASSEMBLIES_OF_HOUSE)}`),
});

/** Tables of the house that only grow: stretches of them by their numbers, which stay as they are. */
export const GROWING: readonly string[] = Object.freeze(['ledger', 'ledger_seals']);

/**
 * What is made anew, or tells of the store itself and of the moment: work under way, what was made
 * to be fetched, files on their way in. The bytes of blobs lie beside their rows, as files.
 */
export const ROWS_OF_NOBODY: readonly string[] = Object.freeze([
  ...['jobs', 'workers', 'uploads', 'extracts', 'blob_chunks', 'stored_objects', 'stored_files'],
  ...['ledger_words', 'open_folders'],
]);

function ofEach(condition: string, tables: readonly string[]): Record<string, string> {
  return Object.fromEntries(tables.map((table) => [table, condition]));
}
