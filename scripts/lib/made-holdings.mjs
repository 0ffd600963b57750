// Holdings made by SQL, as many as are asked for, served by pages of their own: for figures.
import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import pg from 'pg';
import { ROOT, buildPagesIfStale, run, say } from './prepare.mjs';
import { startPostgres } from './postgres.mjs';
import { freePort, startProcess, waitForPages } from './processes.mjs';

/** What every medium has: a line of the ledger, records of what it names, words said of it. */
const OF_EVERY_MEDIUM = [
  `insert into ledger (operator_id, kind, medium_id, what)
    select 1, 'registered', id,
      jsonb_build_object('code', 'asWritten', 'with', jsonb_build_object('text', code)) from media`,
  `insert into lots (name, lender) select distinct on (lot) lot, lender from media`,
  `insert into lenders (name) select distinct lender from media`,
  `update media set machine = 'machine ' || id % 200 where id % 3 = 0`,
  `insert into machines (name) select distinct machine from media where machine <> ''`,
  `insert into descriptions (medium_id, words) select id, 'charts of the bar ' || id from media`,
  `insert into rights (medium_id, is_restricted, reason, opens_on)
    select id, true, 'on terms', '2099-01-01' from media where id % 100 = 0`,
  `insert into rights (lot_name, statement, is_personal)
    select name, 'http://rightsstatements.org/vocab/InC/1.0/', row_number() over () % 20 = 0 from lots`,
  `insert into descriptions (lot_name, words) select name, 'ashwater ' || name from lots`,
];

/**
 * Statements that fill an empty database. The words that files have are made from their numbers.
 * @param {{ media: number, kept: number, filesEach: number, texts: number }} sizes
 */
function fillingStatements({ media, kept, filesEach, texts }) {
  // Without texts a fifth of the files is held a second time.
  const contents = texts || Math.max(1, Math.round(0.8 * kept * filesEach));
  return [
    // Rows come by the million: what triggers keep is made once, at the end.
    `set session_replication_role = replica`,
    `set maintenance_work_mem = '1GB'`,
    `insert into operators (name) values ('bench')`,
    `insert into media (code, form, title, label_text, lender, lot, condition, marks, registered_by)
      select 'BEN-' || lpad(i::text, 5, '0'), (array['3.5', '5.25', '8'])[1 + i % 3],
        'Tables and logs, box ' || i, case when i % 9 = 0 then '' else '“BOX ' || i || '”' end,
        (array['survey office', 'keeper, north light', 'harbour school'])[1 + i % 3],
        'lot ' || i % 400, 'good', case when i % 50 = 0 then '["mould"]'::jsonb else '[]' end, 1
      from generate_series(1, ${media}) i`,
    `insert into code_series (series, last) values ('BEN', ${media})`,
    `insert into blobs (state, size, sha256)
      select 'sealed', 0, md5(i::text) || md5('b' || i) from generate_series(1, ${kept}) i`,
    `insert into fair_copies (medium_id, source, source_name, layout, image_blob, image_sha256,
        image_bytes, tally, problems, made_by)
      select m.id, 'upload', 'box ' || m.id || '.img', 'mfm-35-9x512', b.id, b.sha256, 737280,
        jsonb_build_object('firm', 1440, 'mended', 0, 'doubtful', (m.id % 20 = 0)::int, 'lost', 0,
          'unread', 0), '[]', 1
      from media m join (select id, sha256, row_number() over () as n from blobs) b on b.n = m.id`,
    `insert into volumes (fair_copy_id, filesystem, label, "offset", length, total_bytes,
        free_bytes, file_count, reasons, problems)
      select id, (array['fat12', 'd64', 'prodos'])[1 + id % 3], 'BOX' || id, 0, 737280, 737280,
        1000, ${filesEach}, '[]', '[]' from fair_copies`,
    `drop index files_path_trigrams`,
    `insert into files (volume_id, position, path, recorded_name, kind, bytes, sha256, modified,
        locked, deleted, damaged, extents, sectors_in_doubt)
      select v.id, i, (array['TIDES/NM', 'FOGLOG', 'GAUGE/G', 'DUES', 'LETTERS/L', 'LAMPS'])
          [1 + i % 6] || (1900 + (v.id * 7 + i) % 100) || '_' || i
          || case when (v.id * 100 + i) % 50000 = 7 then 'KITTIWAKE' else '' end
          || '.' || (array['TXT', 'DAT', 'CSV'])[1 + i % 3],
        'x', 'file', 1000 + i, md5(((v.id * ${filesEach} + i) % ${contents})::text)
          || md5('f' || ((v.id * ${filesEach} + i) % ${contents})),
        '1990-01-01T00:00:00', false, false, false, '[]', 0
      from volumes v, generate_series(1, ${filesEach}) i`,
    `create index files_path_trigrams on files using gin (path_folded gin_trgm_ops)`,
    `insert into file_texts (sha256, body)
      select md5(i::text) || md5('f' || i), 'SKERROW POINT TIDE AND FOG SURVEY page ' || i || ' '
        || (select string_agg((array['horn', 'bell', 'swell', 'keeper', 'lamp', 'north', 'mole',
            'visibility', 'cables', 'relieved'])[1 + (i * 31 + w * 17) % 10] || ' ' || (i + w), ' ')
          from generate_series(1, 120) w)
        || case when i % 400 = 0 then ' the dues of the kittiwake' else '' end
      from generate_series(0, ${texts} - 1) i`,
    `insert into likenesses (medium_id, other_id, files, of_medium, of_other, examples,
        file_share, tracks, of_tracks, track_share)
      select i, i + 1 + i % 7, 1 + i % ${filesEach}, ${filesEach}, ${filesEach},
        array['TIDES/NM1904_7.TXT'], (1 + i % ${filesEach})::real / ${filesEach},
        case when i % 4 = 0 then 120 + i % 40 else 0 end, 160,
        case when i % 4 = 0 then (120 + i % 40)::real / 160 else 0 end
      from generate_series(1, ${kept} - 8) i`,
    ...OF_EVERY_MEDIUM,
    `vacuum analyze`,
    `set session_replication_role = origin`,
    `select refresh_holdings((select array_agg(id) from media))`,
    `vacuum analyze holdings`,
  ];
}

/** Calls `work` with the address of pages over such holdings; all of it is gone afterwards. */
export async function withMadeHoldings(name, sizes, work) {
  await buildPagesIfStale();
  const dataFolder = join(ROOT, 'data', name);
  rmSync(dataFolder, { recursive: true, force: true });
  mkdirSync(dataFolder, { recursive: true });
  const stops = [];
  try {
    const postgres = await startPostgres({ dataFolder, port: await freePort(), fast: true });
    stops.push(postgres.stop);
    const port = await freePort();
    const env = {
      DATABASE_URL: postgres.appUrl,
      SPINDLE_BENCH: '127.0.0.1:1',
      NODE_ENV: 'production',
      NEXT_TELEMETRY_DISABLED: '1',
    };
    const asOwner = { ...process.env, ...env, DATABASE_URL: postgres.url };
    await run(process.execPath, ['build/migrate.js'], { env: asOwner });
    const client = new pg.Client({ connectionString: postgres.url });
    // When a statement fails the cluster is stopped under the client: the failure is what is told.
    client.on('error', () => undefined);
    await client.connect();
    for (const statement of fillingStatements(sizes)) {
      const began = Date.now();
      await client.query(statement);
      const seconds = ((Date.now() - began) / 1000).toFixed(1);
      say(`${seconds} s: ${statement.slice(0, 60).split('\n')[0]}`);
    }
    await client.end();
    const pages = startProcess(
      'pages',
      ['node_modules/next/dist/bin/next', 'start', '-H', '127.0.0.1', '-p', String(port)],
      { env },
    );
    stops.push(pages.stop);
    const base = `http://127.0.0.1:${port}`;
    await waitForPages(base, 60);
    await work(base);
  } finally {
    for (const stop of stops.reverse()) await stop();
    rmSync(dataFolder, { recursive: true, force: true });
  }
}
