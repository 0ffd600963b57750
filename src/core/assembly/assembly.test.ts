/**
 * Assemblies: edits made again, undone by leaving them out; names and room before anything is put;
 * many volumes on one; what changed.
 */
import { tell } from '@/messages/tell';
import { memorySource } from '../bits/byte-source';
import { identifyVolumes } from '../identify/identify';
import { BLANK_KINDS } from '../identify/blank-kinds';
import { makeBlank } from '../identify/make-blank';
import { writableVolume } from '../identify/writable-volume';
import { VolumeRefusal } from '../volume/writable';
import { changesOf, type Listed } from './changes';
import { assemble, editWords, Edit, type PutEdit } from './edits';
import { fitFiles, foldersFor, gather } from './fitting';

const blank = (id: string) =>
  makeBlank(
    BLANK_KINDS.find((kind) => kind.id === id)!,
    'TEST',
  );
const contents = new Map<string, Uint8Array>([
  ['a', new Uint8Array(3000).fill(1)],
  ['b', new Uint8Array(20).fill(2)],
  ['c', new Uint8Array(700).fill(3)],
]);
const bytesOf = async ({ source }: PutEdit) => contents.get(source)!;
const put = (path: string, source: string, more: object = {}): Edit =>
  Edit.parse({
    kind: 'put',
    path,
    source,
    bytes: contents.get(source)!.length,
    from: 'a test',
    ...more,
  });

test.each(BLANK_KINDS.map((kind) => [kind.id, kind] as const))(
  '%s: a blank of its size is opened to be written, takes a file, and gives it back',
  async (id, kind) => {
    const image = makeBlank(kind, 'BLANK');
    expect(image.length).toBe(kind.bytes);
    const volume = (await writableVolume(image, id))!;
    const name = volume.suggestName('fog log 1987.txt');
    const path = id === 'wavesample' ? `lower-1/${name}` : name;
    const type = volume.filesystem === 'catalogue16' ? 'B' : undefined;
    // As a sound's samples lie: about the centre.
    const content = new Uint8Array(3000).fill(0x80);
    volume.put(path, content, { type });
    const { volumes } = await identifyVolumes(memorySource(image));
    const [file] = volumes[0]!.volume.entries.filter(({ kind: each }) => each === 'file');
    expect([file!.path, volumes[0]!.volume.problems]).toEqual([path, []]);
    expect(Buffer.compare((await volumes[0]!.volume.read(file!)).subarray(0, 3000), content)).toBe(
      0,
    );
  },
);

test('edits make the same volume each time; leaving out the last undoes it; what it began with stays', async () => {
  const base = blank('fat12-360');
  const kept = base.slice();
  const edits: Edit[] = [
    { kind: 'folder', path: 'LOGS' },
    put('LOGS/FOG.TXT', 'a', { modified: '1990-01-02T03:04:06' }),
    put('BELL.DAT', 'b'),
    { kind: 'rename', path: 'BELL.DAT', name: 'BELLS.DAT' },
    { kind: 'attributes', path: 'BELLS.DAT', locked: true },
  ];
  const once = await assemble(base, null, edits, bytesOf);
  const twice = await assemble(base, null, edits, bytesOf);
  expect(Buffer.compare(once.image, twice.image)).toBe(0);
  expect(Buffer.compare(base, kept)).toBe(0);
  const undone = await assemble(base, null, edits.slice(0, 3), bytesOf);
  expect(undone.volume.room().free).toBe(once.volume.room().free);
  const {
    volumes: [found],
  } = await identifyVolumes(memorySource(once.image));
  expect(
    found!.volume.entries.map(({ path, locked, modified }) => [path, locked, modified]),
  ).toEqual([
    ['LOGS', false, null],
    ['LOGS/FOG.TXT', false, '1990-01-02T03:04:06'],
    ['BELLS.DAT', true, null],
  ]);
  expect(edits.map((edit) => tell(editWords(edit)))).toEqual([
    'folder LOGS made',
    'LOGS/FOG.TXT put in, from a test',
    'BELL.DAT put in, from a test',
    'BELL.DAT renamed to BELLS.DAT',
    'BELLS.DAT locked',
  ]);
  await expect(
    assemble(base, null, [{ kind: 'remove', path: 'NOT.THERE' }], bytesOf),
  ).rejects.toThrow(VolumeRefusal);
  await expect(
    assemble(
      base,
      null,
      [...edits, { kind: 'attributes', path: 'BELLS.DAT', type: 'PRG' }],
      bytesOf,
    ),
  ).rejects.toMatchObject({
    reason: 'kind',
    said: {
      code: 'assembly.thisSystemKeepsNo',
      with: { attributeWord: { code: 'assembly.typeWord' } },
    },
  });
  await expect(assemble(new Uint8Array(512 * 40), null, [], bytesOf)).rejects.toMatchObject({
    said: { code: 'assembly.noVolumeThatCan' },
  });
});

test('names are made to fit, none twice, and what finds no room is told before it is put', async () => {
  const volume = (await writableVolume(blank('d64')))!;
  const fitted = fitFiles(volume, '', new Set(['FOG LOG']), [
    { name: 'FOG LOG', bytes: 1 },
    { name: 'FOG LOG', bytes: 254 },
    { name: 'Fog: a log', bytes: 255 },
    { name: 'TOO MUCH', bytes: 170_000 },
    { name: 'LAST', bytes: 1 },
  ]);
  expect(fitted.map(({ path, cost, fits }) => [path, cost, fits])).toEqual([
    ['FOG LOG2', 1, true],
    ['FOG LOG3', 1, true],
    ['FOG- A LOG', 2, true],
    ['TOO MUCH', 670, false],
    ['LAST', 1, true],
  ]);
  expect(fitted[0]!.renamed).toEqual({
    code: 'volume.thereIsAAlready',
    with: { name: 'FOG LOG' },
  });
  expect(fitted[4]!.renamed).toBeNull();
  const fat = (await writableVolume(blank('fat12-360')))!;
  expect(
    fitFiles(fat, 'LOGS', new Set(), [
      { name: 'long name of 1987.text', bytes: 1 },
      { name: 'long name of 1988.text', bytes: 1 },
    ]).map(({ path }) => path),
  ).toEqual(['LOGS/LONGNAME.TEX', 'LOGS/LONGNAM2.TEX']);
});

test('many small volumes are gathered on one, and what does not fit is listed', async () => {
  const volume = (await writableVolume(blank('fat12-360')))!;
  const volumes = [1, 2, 3].map((n) => ({
    title: `SKP-010${n}`,
    files: [
      { id: n * 10, name: 'FOG.TXT', bytes: 120_000 },
      { id: n * 10 + 1, name: 'BELL.TXT', bytes: 1000 },
    ],
  }));
  const folders = gather(volume, new Set(), volumes, 'folders');
  expect(folders.folders).toEqual(['SKP-0101', 'SKP-0102', 'SKP-0103']);
  expect(folders.files.map(({ path }) => path)).toEqual([
    'SKP-0101/FOG.TXT',
    'SKP-0101/BELL.TXT',
    'SKP-0102/FOG.TXT',
    'SKP-0102/BELL.TXT',
    'SKP-0103/BELL.TXT',
  ]);
  expect(folders.left).toEqual([{ id: 30, title: 'SKP-0103', name: 'FOG.TXT', bytes: 120_000 }]);
  const d64 = (await writableVolume(blank('d64')))!;
  const prefixed = gather(
    d64,
    new Set(),
    volumes.map((each) => ({ ...each, files: each.files.slice(1) })),
    'folders',
  );
  expect(prefixed).toMatchObject({ folders: [], left: [] });
  expect(new Set(prefixed.files.map(({ path }) => path)).size).toBe(3);
});

test('what changed is told file by file', () => {
  const file = (path: string, digest: string | null, locked = false): Listed => ({
    path,
    kind: digest === null ? 'directory' : 'file',
    bytes: 1,
    digest,
    locked,
  });
  const before = [
    file('A', '1'),
    file('B', '2'),
    file('C', '3'),
    file('D', '4'),
    file('LOGS', null),
  ];
  const now = [
    file('A', '1'),
    file('B', '9'),
    file('CC', '3'),
    file('D', '4', true),
    file('E', '5'),
    file('LOGS', null),
  ];
  expect(changesOf(before, now)).toEqual([
    { path: 'A', change: null, was: null },
    { path: 'B', change: 'other-content', was: null },
    { path: 'CC', change: 'other-name', was: 'C' },
    { path: 'D', change: 'other-marks', was: null },
    { path: 'E', change: 'new', was: null },
    { path: 'LOGS', change: null, was: null },
  ]);
  expect(changesOf(before, []).filter(({ change }) => change === 'gone')).toHaveLength(5);
  expect(foldersFor('A/B/C.TXT', new Set(['A']))).toEqual(['A/B']);
});
