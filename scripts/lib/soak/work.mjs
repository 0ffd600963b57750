// The work that goes on in a soak: what people do all day, each of it until it is done, and what
// comes of it held against what came of it while nothing went wrong.
import { createHash } from 'node:crypto';
import { setTimeout as sleep } from 'node:timers/promises';
import { Refused } from './house.mjs';

const LOOKED_EVERY_MS = 400;
/** What stays as it is for longer than this waits for a hand that does not come. */
const STUCK_MS = 300_000;

const sha256 = (bytes) => createHash('sha256').update(bytes).digest('hex');

/** Looks until it gives something; fails where nothing changes for so long that nothing will come. */
async function until(what, look) {
  let end = Date.now() + STUCK_MS;
  let last = null;
  while (Date.now() < end) {
    const { done, now } = await look();
    if (done !== undefined) return done;
    if (JSON.stringify(now) !== JSON.stringify(last)) end = Date.now() + STUCK_MS;
    last = now;
    await sleep(LOOKED_EVERY_MS);
  }
  throw new Error(
    `${what}: nothing came of it in ${STUCK_MS / 1000} s; last: ${JSON.stringify(last)}`,
  );
}

/** What a page would do again on seeing that it was done already, or is not possible any more. */
const perhaps = (asked) =>
  asked.catch((error) => {
    if (!(error instanceof Refused)) throw error;
    return error;
  });

const post = (house, path, body) => house.ask(path, { method: 'POST', body });
const stationOf = async (house, id) =>
  (await house.ask('/api/stations')).find((each) => each.id === id);

async function emptied(house, id) {
  return until(`station ${id} to be emptied`, async () => {
    const { medium } = await stationOf(house, id);
    if (!medium) return { done: true };
    return { now: String(await perhaps(post(house, `/api/stations/${id}`, { action: 'remove' }))) };
  });
}

async function placed(house, id, code) {
  return until(`${code} to be in station ${id}`, async () => {
    const { medium } = await stationOf(house, id);
    if (medium?.code === code) return { done: true };
    return {
      now: String(await perhaps(post(house, `/api/stations/${id}`, { action: 'place', code }))),
    };
  });
}

/** Reads a medium whole; gives the digest of the image. */
export async function read(house, { station, code }) {
  await placed(house, station, code);
  const before = await newest(house, code);
  const start = { action: 'start', unattended: true, uncleaned: true };
  await until(`${code} to be read`, async () => {
    const { sitting } = await stationOf(house, station);
    const latest = await newest(house, code);
    if (!sitting && latest?.id !== before?.id && latest?.state === 'done') return { done: true };
    if (!sitting && latest?.id !== before?.id) throw new Error(`${code}: ${latest.state}`);
    if (!sitting) await perhaps(post(house, `/api/stations/${station}`, start));
    return { now: sitting };
  });
  const { copy } = await house.ask(`/api/docket/${code}`);
  await emptied(house, station);
  return { [`image of ${code}`]: copy.imageSha256 };
}

const newest = async (house, code) =>
  (await house.ask(`/api/docket/${code}`)).sittings.sort((a, b) => b.id - a.id)[0] ?? null;

/** Takes a file in that there was none like before; gives its name with the digest that is kept. */
export async function takeIn(house, { name, bytes }) {
  const path = `/api/intake?name=${encodeURIComponent(name)}`;
  const { id } = await house.ask(path, { method: 'POST', body: bytes });
  const code = await until(`${name} to be taken in`, async () => {
    const upload = await house.ask(`/api/uploads/${id}`);
    return upload.code ? { done: upload.code } : { now: upload };
  });
  const { copy } = await house.ask(`/api/docket/${code}`);
  const image = await house.ask(`/api/copies/${copy.id}/image`, { as: 'bytes' });
  return {
    'what was taken in': sha256(image) === sha256(bytes) && copy.imageSha256 === sha256(bytes),
  };
}

/** Takes images out together; gives the digest of the ZIP. */
export async function takeOut(house, { copies }) {
  const { id } = await post(house, '/api/extracts', { copies, what: 'images' });
  await until(`extract ${id}`, async () => {
    const extract = (await house.ask('/api/extracts')).find((each) => each.id === id);
    if (extract?.state === 'failed') throw new Error(`extract ${id}: ${extract.now}`);
    return extract?.state === 'done' ? { done: true } : { now: extract };
  });
  const zip = await house.ask(`/api/extracts/${id}`, { as: 'bytes' });
  return { 'members of the ZIP': membersOf(zip) };
}

/** The CRC-32 and size of every member, from the central directory (APPNOTE 4.3.12). */
function membersOf(zip) {
  const members = [];
  for (
    let at = zip.indexOf('PK\x01\x02', 0, 'latin1');
    at >= 0;
    at = zip.indexOf('PK\x01\x02', at + 4, 'latin1')
  ) {
    const name = zip.toString('utf8', at + 46, at + 46 + zip.readUInt16LE(at + 28));
    if (/\.img$|\.dsk$|\.fsflux$/i.test(name))
      members.push(`${zip.readUInt32LE(at + 16)} ${zip.readUInt32LE(at + 24)}`);
  }
  return members.sort().join();
}

/** Writes an image back to a blank; gives how it came out. */
export async function writeBack(house, { station, blank, copy }) {
  await placed(house, station, blank);
  const mine = async () =>
    (await house.ask('/api/writebacks')).find((each) => each.target === blank) ?? null;
  const state = await until(`${blank} to be written`, async () => {
    const row = await mine();
    if (!row)
      return {
        now: String(
          await perhaps(post(house, '/api/writebacks', { fairCopyId: copy, stationId: station })),
        ),
      };
    return ['waiting', 'writing', 'held'].includes(row.state)
      ? { now: { state: row.state, now: row.now } }
      : { done: row.state };
  });
  await emptied(house, station);
  return { 'a write-back': state };
}
