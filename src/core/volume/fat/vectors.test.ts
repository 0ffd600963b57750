/**
 * FAT volumes made by others: every file, its bytes and date, deleted ones, free space, and what a
 * checker must say.
 */
import { loadExpectation, loadVector, sha256Hex } from '../../../../tests/support/vectors';
import { memorySource } from '../../bits/byte-source';
import { identifyVolumes } from '../../identify/identify';
import { isSafeName } from '../safe-name';

interface Expectation {
  filesystem: string;
  label?: string;
  freeBytes?: number;
  imageBytes?: number;
  problems: string[];
  files: {
    path: string;
    bytes: number;
    sha256: string;
    modified?: string;
    locked?: boolean;
    also?: string[];
    pathExact?: boolean;
    deleted?: boolean;
    recoverable?: string;
  }[];
}

const CASES = [
  'fat12-720k',
  'fat12-old-fe',
  'fat16-small',
  'fat32-head',
  'bad-fat12-crosslinked',
  'bad-fat12-dir-loop',
  'bad-fat12-hostile-names',
];

describe.each(CASES)('%s', (name) => {
  const expected = loadExpectation<Expectation>(`volumes/${name}-img`);
  const stored = loadVector(`volumes/${name}.img`);
  const image = new Uint8Array(Math.max(stored.length, expected.imageBytes ?? 0));
  image.set(stored);

  test('opens as what it is', async () => {
    const { volumes } = await identifyVolumes(memorySource(image));
    expect(volumes).toHaveLength(1);
    const { volume } = volumes[0]!;
    expect(volume.filesystem).toBe(expected.filesystem);
    if (expected.label) expect(volume.label).toBe(expected.label);
    if (expected.freeBytes !== undefined) expect(volume.freeBytes).toBe(expected.freeBytes);
    const kinds = new Set(volume.problems.map(({ kind }) => kind));
    // The vectors know of no such kind; one of them has two entries called `CON`.
    if (name === 'bad-fat12-hostile-names') expect(kinds.delete('name-twice')).toBe(true);
    expect([...kinds].sort()).toEqual(expected.problems);
  });

  test('lists and reads every file', async () => {
    const { volume } = (await identifyVolumes(memorySource(image))).volumes[0]!;
    const files = volume.entries.filter(({ kind }) => kind === 'file');
    const byDigest = new Map(
      await Promise.all(
        files.map(async (file) => [sha256Hex(await volume.read(file)), file] as const),
      ),
    );
    for (const want of expected.files) {
      const names = [want.path, ...(want.also ?? [])];
      const file =
        want.pathExact === false && want.recoverable !== 'none' && want.recoverable !== 'partial'
          ? byDigest.get(want.sha256)
          : files.find(
              ({ path, deleted }) =>
                deleted === Boolean(want.deleted) &&
                (names.includes(path) || (want.deleted && path.slice(1) === want.path.slice(1))),
            );
      expect({ want: want.path, found: Boolean(file) }).toEqual({ want: want.path, found: true });
      expect({
        bytes: file!.bytes,
        modified: file!.modified,
        deleted: file!.deleted,
        recoverable: file!.recoverable,
        locked: file!.locked,
      }).toEqual({
        bytes: want.bytes,
        modified: want.modified,
        deleted: Boolean(want.deleted),
        recoverable: want.recoverable ?? null,
        locked: Boolean(want.locked),
      });
      if (want.recoverable !== 'none' && want.recoverable !== 'partial')
        expect(sha256Hex(await volume.read(file!))).toBe(want.sha256);
    }
  });

  test('every path is safe to extract', async () => {
    const { volume } = (await identifyVolumes(memorySource(image))).volumes[0]!;
    for (const { path } of volume.entries)
      for (const part of path.split('/')) expect(isSafeName(part)).toBe(true);
  });
});
