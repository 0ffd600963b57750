// `npm run bench -- growth [MEDIA [FILES_EACH]]`: every answer that a page asks for, at the server,
// with very many media and files, made by SQL in a database of its own.
import { gzipSync } from 'node:zlib';
import { firstKeys } from './lib/first-key.mjs';
import { withMadeHoldings } from './lib/made-holdings.mjs';

const at = process.argv.indexOf('growth');
const MEDIA = Number(process.argv[at + 1] ?? 50_000);
const FILES_EACH = Number(process.argv[at + 2] ?? 100);
const RUNS = 5;
const MAX_MS = 300;
const MAX_BYTES = 200_000;
const MAX_FIRST_KEY_MS = 1500;
const WAITING = 0.2;

const FIRST_KEYS = [
  ['/arrivals', 'ArrowDown'],
  ['/holdings', '/'],
];

const ANSWERS = [
  ['Arrivals', '/api/media'],
  ['Arrivals by risk', '/api/media?order=risk'],
  ['Arrivals, a word', '/api/media?q=box+777'],
  ['Arrivals, said of every lot', '/api/media?q=ashwater'],
  ['Arrivals, said of every medium', '/api/media?q=charts'],
  ['To complete', '/api/to-complete'],
  ['Lots and sets', '/api/records'],
  ['Lots and sets, a word', '/api/records?q=keeper'],
  ['A lot', '/api/records/lots/lot%207'],
  ['A lender', '/api/named/lenders/survey%20office'],
  ['A machine', '/api/named/machines/machine%2021'],
  ['Holdings', '/api/holdings?q='],
  ['Holdings, narrowed', '/api/holdings?q=&filesystem=d64&state=sound'],
  ['Holdings, a common word', '/api/holdings?q=tides'],
  ['Holdings, a rare word', '/api/holdings?q=kittiwake'],
  ['Holdings, a code', '/api/holdings?q=ben-04242'],
  ['What is alike', '/api/alike'],
  ['A docket', '/api/docket/BEN-00042'],
  ['Ledger', '/api/ledger'],
  ['Write-backs', '/api/writebacks'],
  ['Stations', '/api/stations'],
  ['Page of Arrivals', '/arrivals'],
  ['Page of Holdings', '/holdings'],
  ['Page of what is alike', '/holdings/alike'],
  ['Page of lots and sets', '/lots'],
  ['Page of a docket', '/media/BEN-00042'],
];

/** The first is not counted: the page's code is loaded with it. */
async function measure(url) {
  const times = [];
  let answer;
  for (let i = 0; i <= RUNS; i++) {
    const began = performance.now();
    const response = await fetch(url);
    const body = new Uint8Array(await response.arrayBuffer());
    if (i > 0) times.push(performance.now() - began);
    answer = { status: response.status, bytes: gzipSync(body).length };
  }
  times.sort((a, b) => a - b);
  return { ...answer, median: Math.round(times[RUNS >> 1]), longest: Math.round(times[RUNS - 1]) };
}

const kept = Math.round(MEDIA * (1 - WAITING));
const sizes = { media: MEDIA, kept, filesEach: FILES_EACH, texts: 0 };
await withMadeHoldings('bench-growth', sizes, async (base) => {
  const table = [];
  for (const [answer, path] of ANSWERS) {
    const { status, bytes, median, longest } = await measure(base + path);
    table.push({
      answer,
      status,
      'median, ms': median,
      'longest, ms': longest,
      'compressed, KB': Math.round(bytes / 1000),
      holds: median <= MAX_MS && bytes <= MAX_BYTES,
    });
  }
  console.log(`${MEDIA} media, ${kept * FILES_EACH} files; at most ${MAX_MS} ms`);
  console.table(table);
  const keys = await firstKeys(base, FIRST_KEYS);
  console.table(
    keys.map(({ page, key, times }) => ({
      page,
      'first key': key,
      'answered, ms (median of 5)': times[2],
      'longest, ms': times.at(-1),
      holds: times[2] <= MAX_FIRST_KEY_MS,
    })),
  );
});
