/**
 * Discs written in several goes: a published volume with another behind it, whose blocks count from
 * the beginning of the disc or from its own; and what lies behind a volume and is none.
 */
import { loadVector, sha256Hex } from '../../../tests/support/vectors';
import { memorySource } from '../bits/byte-source';
import { parseCue } from '../optical/cue';
import { discData } from '../optical/disc-data';
import { makeMode1, RAW_BYTES } from '../optical/raw-sector';
import { seenTracks } from '../optical/seen-tracks';
import { identifyVolumes } from './identify';

const SECTOR = 2048;
const first = loadVector('optical/vol-plain.iso');
const START = Math.ceil(first.length / SECTOR) + 150;

const view = (bytes: Uint8Array) => new DataView(bytes.buffer, bytes.byteOffset, bytes.length);

function addBoth(bytes: Uint8Array, at: number, add: number): void {
  const number = view(bytes).getUint32(at, true) + add;
  view(bytes).setUint32(at, number, true);
  view(bytes).setUint32(at + 4, number, false);
}

/** Adds to the blocks of all records of a directory, and of those below it. */
function moveDirectory(bytes: Uint8Array, block: number, length: number, add: number): void {
  for (let sector = 0; sector < length; sector += SECTOR)
    for (let at = block * SECTOR + sector; bytes[at]! > 0; at += bytes[at]!) {
      const own = view(bytes).getUint32(at + 2, true);
      const isBelow = (bytes[at + 25]! & 2) !== 0 && bytes[at + 33]! > 1;
      if (isBelow) moveDirectory(bytes, own, view(bytes).getUint32(at + 10, true), add);
      addBoth(bytes, at + 2, add);
      if (at + bytes[at]! >= block * SECTOR + sector + SECTOR) break;
    }
}

/** Adds to the blocks of a table of paths of one byte order. */
function movePaths(bytes: Uint8Array, field: number, length: number, isBig: boolean, add: number) {
  const block = view(bytes).getUint32(16 * SECTOR + field, !isBig);
  for (let at = block * SECTOR; at < block * SECTOR + length;) {
    view(bytes).setUint32(at + 2, view(bytes).getUint32(at + 2, !isBig) + add, !isBig);
    at += 8 + bytes[at]! + (bytes[at]! & 1);
  }
  view(bytes).setUint32(16 * SECTOR + field, block + add, !isBig);
}

/** The volume as it is recorded in a session that begins with sector `add`. */
function recordedAt(add: number): Uint8Array {
  const bytes = first.slice();
  const root = 16 * SECTOR + 156;
  const length = view(bytes).getUint32(16 * SECTOR + 132, true);
  movePaths(bytes, 140, length, false, add);
  movePaths(bytes, 148, length, true, add);
  const [block, size] = [
    view(bytes).getUint32(root + 2, true),
    view(bytes).getUint32(root + 10, true),
  ];
  moveDirectory(bytes, block, size, add);
  addBoth(bytes, root + 2, add);
  return bytes;
}

/** Where the record stands of the first file with bytes that a session's root lists. */
function firstFile(bytes: Uint8Array, start: number, counted: number): number {
  const root = view(bytes).getUint32((start + 16) * SECTOR + 158, true) - counted;
  const isFile = (at: number) =>
    (bytes[at + 25]! & 2) === 0 && view(bytes).getUint32(at + 10, true) > 0;
  let at = (start + root) * SECTOR;
  while (!isFile(at)) at += bytes[at]!;
  return at;
}

/** The name in a record, without its version. */
const nameAt = (bytes: Uint8Array, at: number): string =>
  Buffer.from(bytes.subarray(at + 33, at + 33 + bytes[at + 32]!))
    .toString('latin1')
    .replace(/;1$/, '');

/** The first volume, and behind it these bytes from a sector on. */
function disc(behind: Uint8Array, start = START): Uint8Array {
  const bytes = new Uint8Array(start * SECTOR + behind.length);
  bytes.set(first);
  bytes.set(behind, start * SECTOR);
  return bytes;
}

async function listed(bytes: Uint8Array) {
  const { volumes, problems } = await identifyVolumes(memorySource(bytes));
  const files = [];
  for (const { volume, partition } of volumes)
    for (const entry of volume.entries.filter(({ kind }) => kind === 'file'))
      files.push([partition, entry.path, sha256Hex(await volume.read(entry))]);
  return { files, problems: problems.map(({ kind, offset }) => [kind, offset]), volumes };
}

const ofFirst = async (partition: number | null) =>
  (await listed(first)).files.map(([, path, digest]) => [partition, path, digest]);

test.each([
  ['from the beginning of the disc', recordedAt(START)],
  ['from its own', first],
])('a later session whose blocks count %s is a volume of its own', async (_, session) => {
  const { files, problems, volumes } = await listed(disc(session));
  expect(problems).toEqual([]);
  expect(volumes.map(({ partition }) => partition)).toEqual([1, 2]);
  expect(files).toEqual([...(await ofFirst(1)), ...(await ofFirst(2))]);
  expect(volumes.flatMap(({ volume }) => volume.problems.map(({ kind }) => kind))).toEqual([]);
});

test('a session that takes over files of the first has their bytes', async () => {
  const bytes = disc(recordedAt(START));
  const record = firstFile(bytes, START, START);
  const block = view(bytes).getUint32(record + 2, true);
  addBoth(bytes, record + 2, -START);
  // What lies where the file was recorded again is another.
  bytes.fill(0x55, block * SECTOR, (block + 1) * SECTOR);
  const { files } = await listed(bytes);
  const own = ([partition, path]: unknown[]) => partition === 2 && path === nameAt(bytes, record);
  expect(files.filter(own)).toHaveLength(1);
  expect(files.filter(own)).toEqual((await ofFirst(2)).filter(own));
});

test('an image of a disc that is a file of a later session is no session', async () => {
  const bytes = disc(recordedAt(START));
  const block = view(bytes).getUint32(firstFile(bytes, START, START) + 2, true);
  bytes.copyWithin(block * SECTOR, 16 * SECTOR, 17 * SECTOR);
  expect((await identifyVolumes(memorySource(bytes))).volumes).toHaveLength(2);
});

test('data behind a volume that nothing lists are told, and zeros are not', async () => {
  expect((await listed(disc(new Uint8Array(50 * SECTOR)))).problems).toEqual([]);
  expect((await listed(disc(new Uint8Array(50 * SECTOR).fill(7)))).problems).toEqual([
    ['data-behind-volume', START * SECTOR],
  ]);
});

/** Raw sectors of a volume, the first with this address. */
function rawSectors(bytes: Uint8Array, lba: number): Uint8Array {
  const sectors = bytes.length / SECTOR;
  const out = new Uint8Array(sectors * RAW_BYTES);
  for (let i = 0; i < sectors; i++) {
    const user = bytes.subarray(i * SECTOR, (i + 1) * SECTOR);
    out.set(makeMode1(user, lba + i), i * RAW_BYTES);
  }
  return out;
}

test('a raw image without the gap between its sessions has both, by the addresses in its sectors', async () => {
  const second = 11_400 + START;
  const [own, later] = [rawSectors(first, 0), rawSectors(recordedAt(second), second)];
  const source = memorySource(Uint8Array.from([...own, ...later]));
  const begin = first.length / SECTOR;
  const time = `00:${String(Math.floor(begin / 75)).padStart(2, '0')}:${String(begin % 75).padStart(2, '0')}`;
  const sheet = parseCue(
    `FILE a BINARY\nTRACK 01 MODE1/2352\nINDEX 01 00:00:00\nTRACK 02 MODE1/2352\nINDEX 01 ${time}`,
  );
  const { tracks, problems } = await seenTracks(sheet, [source]);
  expect([tracks.map(({ imageSector }) => imageSector), problems]).toEqual([
    [undefined, second],
    [],
  ]);
  const data = (await discData([source], tracks))!;
  expect(data.size).toBe((second + later.length / RAW_BYTES) * SECTOR);
  const { volumes } = await identifyVolumes(data);
  const files = [];
  for (const { volume, partition } of volumes)
    for (const entry of volume.entries.filter(({ kind }) => kind === 'file'))
      files.push([partition, entry.path, sha256Hex(await volume.read(entry))]);
  expect(files).toEqual([...(await ofFirst(1)), ...(await ofFirst(2))]);
});

test('the image of a later session alone, or of a track behind sound, has its files', async () => {
  // Fewer sectors before it than it has itself, and far more.
  for (const before of [20, 150, 25_000]) {
    const { files, problems, volumes } = await listed(recordedAt(before));
    expect([before, files]).toEqual([before, await ofFirst(null)]);
    expect([problems, volumes[0]!.volume.problems.map(({ kind }) => kind)]).toEqual([[], []]);
  }
});

test('a file of an earlier session that the image lacks is damaged, and nothing stands for it', async () => {
  const before = 150;
  const bytes = recordedAt(before);
  // It lies where it did in the first session.
  addBoth(bytes, firstFile(bytes, 0, before) + 2, -before);
  const { volume } = (await identifyVolumes(memorySource(bytes))).volumes[0]!;
  const damaged = volume.entries.filter((each) => each.damaged);
  expect(damaged.map(({ extents }) => extents)).toEqual([[]]);
  expect(await volume.read(damaged[0]!)).toHaveLength(0);
  expect(volume.problems).toMatchObject([
    { kind: 'truncated', said: { with: { files: 1, sectors: before } } },
  ]);
});
