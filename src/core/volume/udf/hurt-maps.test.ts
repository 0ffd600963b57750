/** Volumes whose blocks lie by tables, with their tables hurt: read by what is left, and told. */
import { loadExpectation, loadVector, sha256Hex } from '../../../../tests/support/vectors';
import { memorySource, type ByteSource } from '../../bits/byte-source';
import { seededRandom } from '../../bits/random';
import { ProblemList } from '../extent-volume';
import { blocksBy } from './partition-maps';
import { openUdf } from './read';
import { TAG } from './tags';
import { readVirtualTable } from './virtual-table';

const SECTOR = 2048;

interface Expectation {
  files: { path: string; sha256: string }[];
}

/** A vector changed, as it opens: digests of its files, and what is told. */
async function opened(name: string, change: (bytes: Uint8Array) => Uint8Array | void) {
  const bytes = loadVector(`optical/${name}.iso`).slice();
  const volume = await openUdf(memorySource(change(bytes) ?? bytes));
  const files: Record<string, string> = {};
  for (const entry of volume.entries)
    if (entry.kind === 'file' && !entry.damaged)
      files[entry.path] = sha256Hex(await volume.read(entry));
  return { files, kinds: [...new Set(volume.problems.map(({ kind }) => kind))] };
}

const filesOf = (name: string) =>
  Object.fromEntries(
    loadExpectation<Expectation>(`optical/${name}`).files.map(({ path, sha256 }) => [path, sha256]),
  );

const noise = (length: number) =>
  Uint8Array.from(
    { length },
    (() => {
      const random = seededRandom('noise');
      return () => random.below(256);
    })(),
  );

const wipe = (sector: number) => (bytes: Uint8Array) =>
  void bytes.fill(0, sector * SECTOR, (sector + 1) * SECTOR);

test.each(['vol-udf-virtual-150', 'vol-udf-virtual-200'])(
  '%s without its last table: by the table before it, and what says its own number behind that',
  async (name) => {
    const last = loadVector(`optical/${name}.iso`).length / SECTOR - 1;
    expect(await opened(name, wipe(last))).toEqual({
      files: filesOf(name),
      kinds: ['descriptor-damaged'],
    });
  },
);

test('a table of virtual blocks is found behind so much that was never written', async () => {
  const name = 'vol-udf-virtual-200';
  const found = await opened(name, (bytes) => {
    const longer = new Uint8Array(bytes.length + 5000 * SECTOR);
    longer.set(bytes);
    return longer;
  });
  expect(found).toEqual({ files: filesOf(name), kinds: [] });
});

test('what stands behind a table of virtual blocks is told', async () => {
  const name = 'vol-udf-virtual-150';
  const found = await opened(name, (bytes) => {
    const longer = new Uint8Array(bytes.length + 3 * SECTOR);
    longer.set(bytes);
    longer.set(noise(3 * SECTOR), bytes.length);
    return longer;
  });
  expect(found).toEqual({ files: filesOf(name), kinds: ['descriptor-damaged'] });
});

test('the mirror of the file of all entries stands in for it', async () => {
  const name = 'vol-udf-metadata';
  expect(await opened(name, wipe(288 + 2))).toEqual({
    files: filesOf(name),
    kinds: ['descriptor-damaged'],
  });
});

test('without any table of packets that were moved nothing is made of what stands where they were', async () => {
  const found = await opened('vol-udf-spared', (bytes) => {
    for (const sector of [272, 276, 280]) wipe(sector)(bytes);
  });
  expect(found).toEqual({ files: {}, kinds: ['descriptor-damaged', 'udf-tag-checksum'] });
});

test('one table of packets that were moved is enough', async () => {
  const name = 'vol-udf-spared';
  const found = await opened(name, (bytes) => {
    for (const sector of [272, 276]) wipe(sector)(bytes);
  });
  expect(found).toEqual({ files: filesOf(name), kinds: ['descriptor-damaged'] });
});

/** Blocks that each say they are another virtual one, of which nothing is held. */
const saying = (blocks: number, id: number, fileType: number): ByteSource => ({
  size: blocks * 512,
  async read(offset, length) {
    const bytes = new Uint8Array(Math.min(length, blocks * 512 - offset));
    const view = new DataView(bytes.buffer);
    for (let at = 0; at + 32 <= bytes.length; at += 512) {
      const virtual = ((offset + at) / 512 + 1) % blocks;
      view.setUint16(at, id, true);
      bytes[at + 27] = fileType;
      view.setUint32(at + 12, virtual, true);
      bytes[at + 4] = bytes.subarray(at, at + 16).reduce((sum, byte) => sum + byte, 0);
    }
    return bytes;
  },
});

test('as many blocks as are looked at may say which they are, and the table before is not asked for in each', async () => {
  const many = 2 ** 18;
  let problems = new ProblemList();
  const sets = { source: saying(many, TAG.fileSet, 0), problems, blockBytes: 512 };
  const map = await readVirtualTable(sets, { start: 0, blocks: many });
  expect(map(many - 7)).toEqual({ place: (many - 8) * 512, blocks: 1 });
  problems = new ProblemList();
  let reads = 0;
  const entries = saying(4096, TAG.fileEntry, 248);
  const counted: ByteSource = {
    ...entries,
    read: (at, length) => (reads++, entries.read(at, length)),
  };
  await readVirtualTable(
    { source: counted, problems, blockBytes: 512 },
    { start: 0, blocks: 4096 },
  );
  expect(reads).toBeLessThan(200);
});

test('a table that gives every block one of few places has an end', async () => {
  const source = memorySource(new Uint8Array(64 * SECTOR));
  let asked = 0;
  const everywhere = () => {
    asked++;
    return { place: (asked % 64) * SECTOR, blocks: 1 };
  };
  const blocks = blocksBy(() => everywhere, {
    source,
    problems: new ProblemList(),
    blockBytes: SECTOR,
  });
  for (let i = 0; i < 40; i++) blocks.runsOf({ block: 0, partition: 0 }, 2 ** 29);
  expect(asked).toBeLessThan(2 ** 21);
});

test('without an anchor the descriptors are looked for', async () => {
  const name = 'vol-udf-512';
  const found = await opened(name, (bytes) => {
    bytes.fill(0, 256 * 512, 257 * 512);
    bytes.fill(0, bytes.length - 512);
  });
  expect(found).toEqual({ files: filesOf(name), kinds: ['udf-anchor-missing'] });
});

test('an identifier that was overwritten hides those behind it no more', async () => {
  const name = 'vol-udf-metadata';
  const at = Buffer.from(loadVector(`optical/${name}.iso`)).indexOf(
    '\x08to the mill.txt',
    'latin1',
  );
  const found = await opened(name, (bytes) => {
    // In both copies of the entries' file.
    for (
      let from = at;
      from > 0;
      from = Buffer.from(bytes).indexOf('\x08to the mill.txt', 0, 'latin1')
    )
      bytes.fill(0xee, from - 38, from + 10);
  });
  expect(found.files['Letters/Größe ☂.txt']).toBe(filesOf(name)['Letters/Größe ☂.txt']);
  expect(Object.values(found.files).sort()).toEqual(Object.values(filesOf(name)).sort());
  expect(found.kinds).toContain('directory-damaged');
});
