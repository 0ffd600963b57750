/** Data discs made independently of this code, in every view; and bytes that lie. */
import fc from 'fast-check';
import { loadExpectation, loadVector, sha256Hex } from '../../../../tests/support/vectors';
import { memorySource } from '../../bits/byte-source';
import { openDisc, probeDisc, viewsOf } from '../disc-volume';
import { isSafeName } from '../safe-name';
import type { Volume, VolumeEntry } from '../volume';

interface ExpectedFile {
  path: string;
  bytes?: number;
  sha256?: string | null;
  link?: string;
  optional?: boolean;
}
interface Expectation {
  filesystem: 'iso9660' | 'udf';
  label: string;
  files: ExpectedFile[];
  joliet?: ExpectedFile[];
  rockridge?: ExpectedFile[];
  iso9660?: ExpectedFile[];
  problems: string[];
}

const open = async (bytes: Uint8Array) => {
  const source = memorySource(bytes);
  const evidence = await probeDisc(source);
  return evidence && { evidence, volume: await openDisc(source, evidence.filesystem) };
};

async function expectFiles(
  volume: Volume,
  entries: readonly VolumeEntry[],
  expected: readonly ExpectedFile[],
): Promise<void> {
  const files = entries.filter(({ kind }) => kind === 'file');
  for (const { path, bytes, sha256, link, optional } of expected) {
    const entry = files.find((each) => each.path === path);
    if (!entry && optional) continue;
    expect([path, entry?.bytes, entry?.link]).toEqual([path, bytes ?? 0, link]);
    if (link !== undefined) continue;
    if (sha256 === null) expect(entry!.damaged).toBe(true);
    else if (!optional)
      expect([path, sha256Hex(await volume.read(entry!))]).toEqual([path, sha256]);
  }
  expect(
    files.map(({ path }) => path).filter((path) => !expected.some((each) => each.path === path)),
  ).toEqual([]);
}

/** Volumes of small blocks, with packets that were moved, written once, with entries apart. */
const UDF = ['512', 'spared', 'virtual-150', 'virtual-200', 'metadata'].map(
  (kind) => `vol-udf-${kind}`,
);

test.each([
  'vol-plain',
  'vol-both-endian',
  'vol-past-end',
  'vol-joliet-rr',
  'vol-zisofs',
  'vol-udf-bridge',
  ...UDF,
])('%s', async (name) => {
  const expected = loadExpectation<Expectation>(`optical/${name}`);
  const { evidence, volume } = (await open(loadVector(`optical/${name}.iso`)))!;
  expect([
    evidence.filesystem,
    volume.filesystem,
    volume.label,
    volume.problems.map(({ kind }) => kind),
  ]).toEqual([expected.filesystem, expected.filesystem, expected.label, expected.problems]);
  await expectFiles(volume, volume.entries, expected.files);
  expect(viewsOf(volume).map((view) => view.name)).toEqual(
    (['iso9660', 'joliet', 'rockridge'] as const).filter((view) => expected[view]),
  );
  for (const view of viewsOf(volume))
    await expectFiles(volume, view.entries, expected[view.name as 'joliet']!);
});

/** A vector with one place changed. */
function hurt(name: string, changes: readonly [at: number, ...bytes: number[]][]): Uint8Array {
  const bytes = loadVector(`optical/${name}.iso`).slice();
  for (const [at, ...values] of changes) bytes.set(values, at);
  return bytes;
}
const kinds = async (bytes: Uint8Array) =>
  (await open(bytes))!.volume.problems.map(({ kind }) => kind);
/** Where a directory record or file entry with this name begins, by its name. */
const find = (bytes: Uint8Array, name: string, after = 0) =>
  Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length).indexOf(name, after, 'latin1');

test('damage is named: a loop, a table that differs, a file that should go on, files on one another, a descriptor that is not there', async () => {
  const plain = loadVector('optical/vol-plain.iso');
  const root = [...plain.subarray(16 * 2048 + 158, 16 * 2048 + 166)];
  const tides = find(plain, 'TIDES', root[0]! * 2048) - 33;
  // The folder is the root itself.
  expect(await kinds(hurt('vol-plain', [[tides + 2, ...root]]))).toEqual(
    expect.arrayContaining(['directory-loop', 'path-table-mismatch']),
  );
  const one = find(plain, 'ONE.BIN') - 33;
  expect(await kinds(hurt('vol-plain', [[one + 25, 0x80]]))).toEqual(['multi-extent-broken']);
  const exact = find(plain, 'EXACT1.BIN') - 33;
  // It begins in the second of its two blocks' neighbour: partly on what follows it.
  const block = plain[exact + 2]!;
  const moved = block - 1;
  expect(await kinds(hurt('vol-plain', [[exact + 2, moved, 0, 0, 0, 0, 0, 0, moved]]))).toContain(
    'extents-overlap',
  );
  expect(await kinds(hurt('vol-plain', [[17 * 2048, 0, 0, 0, 0, 0, 0]]))).toContain(
    'descriptor-damaged',
  );
  expect(await kinds(plain.subarray(0, plain.length - 4096))).toContain('truncated');
});

test('UDF: a tag that does not sum up, a check that fails, a place that is another, an anchor that is gone', async () => {
  const bridge = loadVector('optical/vol-udf-bridge.iso');
  // The file entry of a file: found by its tag's number and the sum in its fifth byte.
  const entryAt = (id: number, nth: number) => {
    let seen = 0;
    for (let at = 257 * 2048; at < bridge.length; at += 2048)
      if (bridge[at] === (id & 0xff) && bridge[at + 1] === id >> 8 && seen++ === nth) return at;
    throw new Error(`no descriptor ${id}`);
  };
  const file = entryAt(261, 3);
  expect(await kinds(hurt('vol-udf-bridge', [[file + 60, bridge[file + 60]! ^ 1]]))).toContain(
    'udf-tag-crc',
  );
  expect(await kinds(hurt('vol-udf-bridge', [[file + 4, bridge[file + 4]! ^ 1]]))).toEqual(
    expect.arrayContaining(['udf-tag-checksum']),
  );
  const location = bridge.slice(file, file + 16);
  location[12]! ^= 1;
  location[4] = location.reduce((sum, byte, i) => (i === 4 ? sum : (sum + byte) & 0xff), 0);
  expect(await kinds(hurt('vol-udf-bridge', [[file, ...location]]))).toContain('udf-tag-location');
  expect(
    await kinds(hurt('vol-udf-bridge', [[256 * 2048, ...new Array<number>(16).fill(0)]])),
  ).toContain('udf-anchor-missing');
});

test(
  'whatever stands on a disc, it ends, and no name leaves its folder',
  () =>
    fc.assert(
      fc.asyncProperty(
        fc.constantFrom('vol-joliet-rr', 'vol-udf-bridge', 'vol-plain'),
        fc.array(
          fc.tuple(
            fc.double({ min: 0, max: 0.9999, noNaN: true }),
            fc.integer({ min: 0, max: 255 }),
          ),
          { minLength: 1, maxLength: 60 },
        ),
        fc.double({ min: 0.3, max: 1, noNaN: true }),
        async (name, changes, kept) => {
          const bytes = loadVector(`optical/${name}.iso`).slice();
          // Where tables and directories lie: of a bridge behind the anchor, of the others behind
          // the descriptors.
          const [from, to] =
            name === 'vol-udf-bridge' ? [256 * 2048, 300 * 2048] : [16 * 2048, 32 * 2048];
          for (const [place, value] of changes)
            bytes[from + Math.floor(place * (Math.min(to, bytes.length) - from))] = value;
          const opened = await open(bytes.subarray(0, Math.floor(bytes.length * kept)));
          if (!opened) return;
          for (const entries of [
            opened.volume.entries,
            ...viewsOf(opened.volume).map((view) => view.entries),
          ]) {
            for (const entry of entries) {
              for (const part of entry.path.split('/')) expect(isSafeName(part)).toBe(true);
              if (entry.kind === 'file')
                expect(
                  (await opened.volume.read({ ...entry, bytes: Math.min(entry.bytes, 1 << 20) }))
                    .length,
                ).toBeLessThanOrEqual(entry.bytes);
            }
          }
        },
      ),
      { numRuns: 150 },
    ),
  60_000,
);
