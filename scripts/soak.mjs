// `npm run soak`: the whole application at work while its parts are killed and stopped under it.
// Nobody lends a hand, and what comes of the work must be what came of it undisturbed.
//   --kills N   misfortunes (100)      --seed N   the same ones again      --speed N   of the bench (30)
//   --only TEXT misfortunes with such a name
import { parseArgs } from 'node:util';
import { buildPagesIfStale, bundleIfStale, installPackages, say } from './lib/prepare.mjs';
import { House } from './lib/soak/house.mjs';
import { randomOf, strike } from './lib/soak/kills.mjs';
import { read, takeIn, takeOut, writeBack } from './lib/soak/work.mjs';

const { values } = parseArgs({
  options: {
    kills: { type: 'string', default: '100' },
    seed: { type: 'string', default: String(Date.now() % 2 ** 31) },
    speed: { type: 'string', default: '30' },
    only: { type: 'string', default: '' },
  },
});
const random = randomOf(Number(values.seed));
say(`seed ${values.seed}, ${values.kills} misfortunes`);

/** Who stands where, and reads what, again and again. */
const READERS = [
  { station: 1, codes: ['SKP-0128'] },
  { station: 4, codes: ['SKP-0106', 'SKP-0107'] },
  { station: 5, codes: ['SKP-0105'] },
  { station: 8, codes: ['SKP-0112'] },
];
const WRITER = { station: 2, blanks: ['BLK-0001', 'BLK-0002', 'BLK-0003', 'BLK-0004'] };
/** A file of its own each time: what is kept already is not taken in again. */
const MADE_BYTES = 368_640;
const madeFile = (n) => ({
  name: `made ${n}.img`,
  bytes: Uint8Array.from(
    { length: MADE_BYTES },
    (_, i) => (Math.imul(i + 1, 2654435761 + n) >>> 13) & 255,
  ),
});

const expected = new Map();
const wrong = [];
let done = 0;
/** The first time is undisturbed: what comes of it is what must come of it later. */
function compare(results) {
  for (const [what, came] of Object.entries(results)) {
    done++;
    if (!expected.has(what)) expected.set(what, came);
    else if (expected.get(what) !== came)
      wrong.push(`${what}: ${came} instead of ${expected.get(what)}`);
  }
}

let isOver = false;
let made = 0;
/** Goes on until it is over; what fails is told, and begun anew. */
async function again(works) {
  for (let i = 0; !isOver; i = (i + 1) % works.length) {
    try {
      compare(await works[i]());
    } catch (error) {
      wrong.push(error.message);
      say(`  ${error.message}`);
    }
  }
}

await installPackages();
await bundleIfStale();
await buildPagesIfStale();
const began = Date.now();
const seconds = () => Math.round((Date.now() - began) / 1000);
const house = await House.begin({ speed: Number(values.speed) });
let counts = {};
try {
  const held = (await house.ask('/api/holdings')).copies;
  const copies = held.slice(0, 3).map(({ id }) => id);
  const image = held.find(({ code }) => code === 'SKP-0104').id;
  const [first, ...blanks] = WRITER.blanks;
  const readings = READERS.map(({ station, codes }) =>
    codes.map((code) => () => read(house, { station, code })),
  );
  const takingIn = () => takeIn(house, madeFile(++made));
  const takingOut = () => takeOut(house, { copies });
  const writing = (blank) => writeBack(house, { station: WRITER.station, blank, copy: image });

  say(`undisturbed (${seconds()} s)`);
  for (const works of readings) for (const work of works) compare(await work());
  compare(await takingIn());
  compare(await takingOut());
  compare(await writing(first));
  say(`${done} results (${seconds()} s)`);

  const working = Promise.all([
    ...readings.map(again),
    again([takingIn]),
    again([takingOut]),
    (async () => {
      for (const blank of blanks) if (!isOver) compare(await writing(blank));
    })().catch((error) => wrong.push(error.message)),
  ]);
  counts = await strike(house, {
    times: Number(values.kills),
    random,
    only: values.only,
    tell: (what) => say(`  ${what} (${seconds()} s, ${done} results)`),
  });
  isOver = true;
  await working;
  const { ledger } = await house.ask('/api/fixity');
  if (ledger?.broken) wrong.push(`the ledger is not what it was: ${JSON.stringify(ledger.broken)}`);
} catch (error) {
  wrong.push(error.stack);
} finally {
  if (wrong.length > 0) say(house.lastWords());
  await house.end();
}
for (const [name, times] of Object.entries(counts)) say(`${name}: ${times}`);
for (const each of wrong) say(`WRONG ${each}`);
say(`${done} results in ${seconds()} s, ${wrong.length} wrong; seed ${values.seed}`);
process.exit(wrong.length > 0 ? 1 : 0);
