// Measures the search over 100,000 files on 500 media, from the key to the answer on the page, in a
// database of its own.
import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import pg from 'pg';
import { ROOT, buildPagesIfStale, ensureBrowser, run } from './lib/prepare.mjs';
import { startBrowser } from './lib/chromium.mjs';
import { startPostgres } from './lib/postgres.mjs';
import { freePort, startProcess, waitForPages } from './lib/processes.mjs';

const MEDIA = 500;
const FILES_EACH = 200;
const TEXTS = 20_000;
const RUNS = 7;
const MOST_MS = 200;
const QUERIES = [
  'tide',
  'foglog19',
  'txt',
  'north mole',
  'kittiwake dues',
  'survey office',
  'zzzz',
  '3fa9c1',
];

await ensureBrowser();
await buildPagesIfStale();
const dataFolder = join(ROOT, 'data', 'bench-search');
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
  await client.query(
    `
    insert into operators (name) values ('bench');
    insert into media (code, form, title, "labelText", lender, lot, condition, "registeredBy")
      select 'BEN-' || lpad(i::text, 4, '0'), (array['3.5', '5.25', '8'])[1 + i % 3], 'Tables and logs, box ' || i, '“BOX ' || i || '”', (array['survey office', 'keeper, north light', 'harbour school'])[1 + i % 3], 'lot ' || i % 12, 'good', 1 from generate_series(1, ${MEDIA}) i;
    insert into blobs (state, size, sha256) select 'sealed', 0, md5(i::text) || md5('b' || i) from generate_series(1, ${MEDIA}) i;
    insert into fair_copies ("mediumId", source, "sourceName", layout, "imageBlob", "imageSha256", "imageBytes", tally, problems, "madeBy")
      select m.id, 'upload', 'box ' || m.id || '.img', 'mfm-35-9x512', b.id, b.sha256, 737280, '{"firm":1440,"mended":0,"doubtful":0,"lost":0,"unread":0}', '[]', 1 from media m join (select id, sha256, row_number() over () as n from blobs) b on b.n = m.id;
    insert into volumes ("fairCopyId", filesystem, label, "offset", length, "totalBytes", "freeBytes", "fileCount", reasons, problems)
      select id, (array['fat12', 'd64', 'prodos'])[1 + id % 3], 'BOX' || id, 0, 737280, 737280, 1000, ${FILES_EACH}, '[]', '[]' from fair_copies;
    insert into files ("volumeId", position, path, "recordedName", kind, bytes, sha256, modified, locked, deleted, damaged, extents, "sectorsInDoubt")
      select v.id, i, (array['TIDES/NM', 'FOGLOG', 'GAUGE/G', 'DUES', 'LETTERS/L', 'LAMPS'])[1 + i % 6] || (1900 + (v.id * 7 + i) % 100) || '_' || i || '.' || (array['TXT', 'DAT', 'CSV'])[1 + i % 3], 'x', 'file', 1000 + i,
        md5(((v.id * ${FILES_EACH} + i) % ${TEXTS})::text) || md5('f' || ((v.id * ${FILES_EACH} + i) % ${TEXTS})), '1990-01-01T00:00:00', false, false, false, '[]', 0 from volumes v, generate_series(1, ${FILES_EACH}) i;
    insert into file_texts (sha256, body)
      select md5(i::text) || md5('f' || i), 'SKERROW POINT TIDE AND FOG SURVEY page ' || i || ' ' || (select string_agg((array['horn', 'bell', 'swell', 'keeper', 'lamp', 'north', 'mole', 'visibility', 'cables', 'relieved'])[1 + (i * 31 + w * 17) % 10] || ' ' || (i + w), ' ') from generate_series(1, 120) w) || case when i % 400 = 0 then ' the dues of the kittiwake' else '' end from generate_series(0, ${TEXTS - 1}) i;
    analyze;`.replaceAll(
      /"(labelText|registeredBy|mediumId|sourceName|imageBlob|imageSha256|imageBytes|madeBy|fairCopyId|totalBytes|freeBytes|fileCount|volumeId|recordedName|sectorsInDoubt)"/g,
      (_, name) => name.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`),
    ),
  );
  const {
    rows: [{ count }],
  } = await client.query('select count(*)::int as count from files');
  await client.end();
  stops.push(
    startProcess(
      'pages',
      ['node_modules/next/dist/bin/next', 'start', '-H', '127.0.0.1', '-p', String(port)],
      { env },
    ).stop,
  );
  await waitForPages(`http://127.0.0.1:${port}`, 60);
  const { driver, close } = await startBrowser();
  stops.push(close);
  await driver.manage().setTimeouts({ script: 30_000 });
  await driver.get(`http://127.0.0.1:${port}/holdings`);
  // Keys pressed before the page is alive are nobody's.
  await driver.sleep(1500);
  const table = [];
  for (const query of QUERIES) {
    const times = [];
    let said = '';
    for (let i = 0; i < RUNS; i++) {
      // Another blank each time: the page may not remember the answer.
      const [ms, title] = await driver.executeAsyncScript(
        `
        const [query, done] = arguments;
        const input = document.querySelector('input[type=search]');
        const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
        const start = performance.now();
        const look = () => {
          const title = document.querySelector('h1').textContent;
          if (title.includes('answer to “' + query + '”')) done([performance.now() - start, title]);
          else requestAnimationFrame(look);
        };
        set.call(input, query);
        input.dispatchEvent(new Event('input', { bubbles: true }));
        look();`,
        query + ' '.repeat(i),
      );
      times.push(ms);
      said = title;
    }
    times.sort((a, b) => a - b);
    table.push({
      query,
      answer: said.slice(0, 60),
      'median, ms': Math.round(times[RUNS >> 1]),
      'longest, ms': Math.round(times[RUNS - 1]),
      'at most': MOST_MS,
    });
  }
  console.log(`${count} files on ${MEDIA} media`);
  console.table(table);
} finally {
  for (const stop of stops.reverse()) await stop();
  rmSync(dataFolder, { recursive: true, force: true });
}
