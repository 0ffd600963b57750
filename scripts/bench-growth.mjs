// `npm run bench -- growth [MEDIA [FILES_EACH]]`: every answer that a page asks for, at the server,
// with very many media and files, made by SQL in a database of its own.
import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import pg from 'pg';
import { ROOT, buildPagesIfStale, run, say } from './lib/prepare.mjs';
import { startPostgres } from './lib/postgres.mjs';
import { freePort, startProcess, waitForPages } from './lib/processes.mjs';

const at = process.argv.indexOf('growth');
const MEDIA = Number(process.argv[at + 1] ?? 50_000);
const FILES_EACH = Number(process.argv[at + 2] ?? 100);
const RUNS = 5;
const MAX_MS = 300;
const MAX_BYTES = 200_000;
const WAITING = 0.2;

const ANSWERS = [
  ['Arrivals', '/api/media'],
  ['Arrivals by risk', '/api/media?order=risk'],
  ['Arrivals, a word', '/api/media?q=box+777'],
  ['To complete', '/api/to-complete'],
  ['Holdings', '/api/holdings?q='],
  ['Holdings, narrowed', '/api/holdings?q=&filesystem=d64&state=sound'],
  ['Holdings, a common word', '/api/holdings?q=tides'],
  ['Holdings, a rare word', '/api/holdings?q=kittiwake'],
  ['Holdings, a code', '/api/holdings?q=ben-04242'],
  ['A docket', '/api/docket/BEN-00042'],
  ['Ledger', '/api/ledger'],
  ['Write-backs', '/api/writebacks'],
  ['Stations', '/api/stations'],
  ['Page of Arrivals', '/arrivals'],
  ['Page of Holdings', '/holdings'],
  ['Page of a docket', '/media/BEN-00042'],
];

const kept = Math.round(MEDIA * (1 - WAITING));
/** Statements in order; the words that files have are made from their numbers. */
const STATEMENTS = [
  // Rows come by the million: what triggers keep is made once, at the end.
  `set session_replication_role = replica`,
  `insert into operators (name) values ('bench')`,
  `insert into media (code, form, title, label_text, lender, lot, condition, marks, registered_by)
    select 'BEN-' || lpad(i::text, 5, '0'), (array['3.5', '5.25', '8'])[1 + i % 3],
      'Tables and logs, box ' || i, case when i % 9 = 0 then '' else '“BOX ' || i || '”' end,
      (array['survey office', 'keeper, north light', 'harbour school'])[1 + i % 3],
      'lot ' || i % 400, 'good', case when i % 50 = 0 then '["mould"]'::jsonb else '[]' end, 1
    from generate_series(1, ${MEDIA}) i`,
  `insert into code_series (series, last) values ('BEN', ${MEDIA})`,
  `insert into blobs (state, size, sha256)
    select 'sealed', 0, md5(i::text) || md5('b' || i) from generate_series(1, ${kept}) i`,
  `insert into fair_copies (medium_id, source, source_name, layout, image_blob, image_sha256,
      image_bytes, tally, problems, made_by)
    select m.id, 'upload', 'box ' || m.id || '.img', 'mfm-35-9x512', b.id, b.sha256, 737280,
      jsonb_build_object('firm', 1440, 'mended', 0, 'doubtful', (m.id % 20 = 0)::int, 'lost', 0,
        'unread', 0), '[]', 1
    from media m join (select id, sha256, row_number() over () as n from blobs) b on b.n = m.id`,
  `insert into volumes (fair_copy_id, filesystem, label, "offset", length, total_bytes, free_bytes,
      file_count, reasons, problems)
    select id, (array['fat12', 'd64', 'prodos'])[1 + id % 3], 'BOX' || id, 0, 737280, 737280, 1000,
      ${FILES_EACH}, '[]', '[]' from fair_copies`,
  `drop index files_path_trigrams`,
  `insert into files (volume_id, position, path, recorded_name, kind, bytes, sha256, modified,
      locked, deleted, damaged, extents, sectors_in_doubt)
    select v.id, i, (array['TIDES/NM', 'FOGLOG', 'GAUGE/G', 'DUES', 'LETTERS/L', 'LAMPS'])[1 + i % 6]
        || (1900 + (v.id * 7 + i) % 100) || '_' || i
        || case when (v.id * 100 + i) % 50000 = 7 then 'KITTIWAKE' else '' end || '.TXT',
      'x', 'file', 1000 + i, md5(((v.id * ${FILES_EACH} + i) % 200000)::text) || md5('f' || i),
      '1990-01-01T00:00:00', false, false, false, '[]', 0
    from volumes v, generate_series(1, ${FILES_EACH}) i`,
  `create index files_path_trigrams on files using gin (path_folded gin_trgm_ops)`,
  `insert into ledger (operator_id, kind, medium_id, what)
    select 1, 'registered', id, code || ' registered.' from media`,
  `vacuum analyze`,
  `set session_replication_role = origin`,
  `select refresh_holdings((select array_agg(id) from media))`,
  `vacuum analyze holdings`,
];

await buildPagesIfStale();
const dataFolder = join(ROOT, 'data', 'bench-growth');
rmSync(dataFolder, { recursive: true, force: true });
mkdirSync(dataFolder, { recursive: true });
const stops = [];
try {
  const postgres = await startPostgres({ dataFolder, port: await freePort(), fast: true });
  stops.push(postgres.stop);
  const port = await freePort();
  const env = {
    DATABASE_URL: postgres.url,
    SPINDLE_BENCH: '127.0.0.1:1',
    NODE_ENV: 'production',
    NEXT_TELEMETRY_DISABLED: '1',
  };
  await run(process.execPath, ['build/migrate.js'], { env: { ...process.env, ...env } });
  const client = new pg.Client({ connectionString: postgres.url });
  await client.connect();
  await client.query(`set maintenance_work_mem = '1GB'`);
  for (const statement of STATEMENTS) {
    const began = Date.now();
    await client.query(statement);
    say(`${((Date.now() - began) / 1000).toFixed(1)} s: ${statement.slice(0, 60).split('\n')[0]}`);
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
  const table = [];
  for (const [name, path] of ANSWERS) {
    const times = [];
    let bytes = 0;
    let status = 0;
    for (let i = 0; i <= RUNS; i++) {
      const began = performance.now();
      const response = await fetch(base + path);
      const body = new Uint8Array(await response.arrayBuffer());
      // The first is not counted: the page's code is loaded with it.
      if (i > 0) times.push(performance.now() - began);
      status = response.status;
      bytes = gzipSync(body).length;
    }
    times.sort((a, b) => a - b);
    const median = Math.round(times[RUNS >> 1]);
    table.push({
      answer: name,
      status,
      'median, ms': median,
      'longest, ms': Math.round(times[RUNS - 1]),
      'compressed, KB': Math.round(bytes / 1000),
      holds: median <= MAX_MS && bytes <= MAX_BYTES,
    });
  }
  console.log(`${MEDIA} media, ${kept * FILES_EACH} files; at most ${MAX_MS} ms`);
  console.table(table);
} finally {
  for (const stop of stops.reverse()) await stop();
  rmSync(dataFolder, { recursive: true, force: true });
}
