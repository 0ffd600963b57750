/**
 * Volumes that are written: blanks, the order their own systems give, changes to volumes that
 * others made, refusals, and random edits against a model.
 */
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { EDITED, editSequence } from '../../../tests/support/edits/edit-model';
import { loadVector } from '../../../tests/support/vectors';
import { refusalOf } from '../../../tests/support/edits/refusal';
import { memorySource } from '../bits/byte-source';
import { identifyVolumes } from '../identify/identify';
import { WritableCatalogue16 } from './catalogue16/write';
import { formatCatalogue16 } from './catalogue16/format';
import { formatCpm, WritableCpm } from './cpm/write';
import { probeCpm } from './cpm/probe';
import { CPM_8_INCH } from '../identify/make-blank';
import { WritableD64 } from './d64/write';
import { formatD64 } from './d64/format';
import { blockOf, SIZES } from './d64/geometry';
import { WritableFat } from './fat/write';
import { FAT_FORMATS, fat16Format, formatFat } from './fat/format';
import { formatGranule, WritableGranule } from './granule/write';
import { WritableProdos } from './prodos/write';
import { formatProdos } from './prodos/format';
import type { Volume } from './volume';
import type { WritableVolume } from './writable';

const only = async (image: Uint8Array): Promise<Volume> => {
  const { volumes } = await identifyVolumes(memorySource(image));
  expect(volumes).toHaveLength(1);
  return volumes[0]!.volume;
};
const bytesOf = (length: number, seed = 1) =>
  Uint8Array.from({ length }, (_, i) => (i * 31 + seed + (i >> 8)) & 0xff);
test.each([
  ['d64', formatD64('d64', { label: 'BLANK', id: 'AB' }), new WritableD64(formatD64('d64')), 664],
  ['d71', formatD64('d71'), new WritableD64(formatD64('d71')), 1328],
  ['d81', formatD64('d81'), new WritableD64(formatD64('d81')), 3160],
  ['granule', formatGranule(), new WritableGranule(formatGranule()), 68],
])(
  'a blank %s is clean, and has as many units free as its own system says',
  async (_, image, writable, free) => {
    const { volumes } = await identifyVolumes(memorySource(image));
    if (volumes.length > 0) expect(volumes[0]!.volume).toMatchObject({ problems: [], entries: [] });
    expect((writable as WritableVolume).room().free).toBe(free);
  },
);

test('blanks of the other families are clean', async () => {
  expect(await only(formatProdos(280, { label: 'BLANK' }))).toMatchObject({
    filesystem: 'prodos',
    label: 'BLANK',
    problems: [],
    entries: [],
    freeBytes: 273 * 512,
  });
  expect(await only(formatProdos(65_535))).toMatchObject({
    problems: [],
    freeBytes: (65_535 - 6 - 16) * 512,
  });
  expect(await only(formatCatalogue16())).toMatchObject({
    filesystem: 'catalogue16',
    problems: [],
    freeBytes: 496 * 256,
  });
  expect(await only(formatCatalogue16({ keepsSystemTracks: false }))).toMatchObject({
    problems: [],
    freeBytes: (544 - 1) * 256,
  });
  for (const format of Object.values(FAT_FORMATS))
    expect(await only(formatFat(format, { label: 'BLANK' }))).toMatchObject({
      filesystem: 'fat12',
      label: 'BLANK',
      problems: [],
      entries: [],
    });
  expect(await only(formatFat(fat16Format(83_623)))).toMatchObject({
    filesystem: 'fat16',
    label: null,
    problems: [],
  });
});

test('sectors of a file follow one another as the disk’s own system gives them', async () => {
  const image = formatD64('d64');
  const disk = new WritableD64(image);
  disk.put('FIRST', bytesOf(254 * 15));
  const places: [number, number][] = [];
  for (let [track, sector] = [17, 0]; track !== 0;) {
    places.push([track, sector]);
    const at = blockOf(SIZES[0]![1], track, sector) * 256;
    [track, sector] = [image[at]!, image[at + 1]!];
  }
  // Ten further on, and round: as on any disk that such a drive wrote.
  expect(places.map(([, sector]) => sector)).toEqual([
    0, 10, 20, 8, 18, 6, 16, 4, 14, 2, 12, 1, 11, 3, 13,
  ]);
  expect(new Set(places.map(([track]) => track))).toEqual(new Set([17]));
  disk.put('SECOND', bytesOf(254 * 10));
  const volume = await only(image);
  expect(volume.entries.map(({ path, ownSize }) => [path, ownSize])).toEqual([
    ['FIRST', '15 blocks'],
    ['SECOND', '10 blocks'],
  ]);
  // The rest of track 17, then the track on the other side of the directory's neighbour: 16 below
  // it.
  expect(volume.problems).toEqual([]);
});

test('a file that outgrows a block gets its index behind the first block of data', async () => {
  const image = formatProdos(800, { label: 'TREE' });
  const volume = new WritableProdos(image);
  volume.put('SMALL', bytesOf(512));
  volume.put('MIDDLE', bytesOf(513), { type: '06', address: 0x2000 });
  volume.put('LARGE', bytesOf(300 * 512), { type: '06' });
  const entry = (i: number) => image.subarray(2 * 512 + 4 + i * 0x27, 2 * 512 + 4 + (i + 1) * 0x27);
  expect([entry(1)[0]! >> 4, entry(1)[0x11], entry(1)[0x13]]).toEqual([1, 7, 1]);
  expect([
    entry(2)[0]! >> 4,
    entry(2)[0x11],
    entry(2)[0x13],
    entry(2)[0x1f],
    entry(2)[0x20],
  ]).toEqual([2, 9, 3, 0, 0x20]);
  expect([entry(3)[0]! >> 4, entry(3)[0x13]! | (entry(3)[0x14]! << 8)]).toEqual([3, 303]);
  const opened = await only(image);
  expect(opened.problems).toEqual([]);
  expect(Buffer.compare(await opened.read(opened.entries[2]!), bytesOf(300 * 512))).toBe(0);
});

const VECTORS: [string, (image: Uint8Array) => WritableVolume | Promise<WritableVolume>, string][] =
  [
    ['fat12-720k.img', (image) => new WritableFat(image), 'NEW.TXT'],
    ['fat16-small.img', (image) => new WritableFat(image), 'NEW.TXT'],
    ['fat12-old-fe.img', (image) => new WritableFat(image), 'NEW.TXT'],
    ['d64-plain.d64', (image) => new WritableD64(image), 'NEW'],
    ['d71-plain.d71', (image) => new WritableD64(image), 'NEW'],
    ['d81-plain.d81', (image) => new WritableD64(image), 'NEW'],
    ['prodos-280.po', (image) => new WritableProdos(image), 'NEW'],
    ['prodos-1600.po', (image) => new WritableProdos(image), 'NEW'],
    ['catalogue16-plain.do', (image) => new WritableCatalogue16(image), 'NEW'],
    [
      'cpm-8inch.img',
      async (image) => new WritableCpm(image, (await probeCpm(memorySource(image)))!.parameters),
      'NEW.TXT',
    ],
    [
      'cpm-dd-exm1.img',
      async (image) => new WritableCpm(image, (await probeCpm(memorySource(image)))!.parameters),
      'NEW.TXT',
    ],
    ['granule-plain.img', (image) => new WritableGranule(image), 'NEW.TXT'],
  ];

test.each(VECTORS)(
  '%s, made elsewhere, takes a file, gives one up, and keeps all others',
  async (name, open, fresh) => {
    const image = loadVector(`volumes/${name}`).slice();
    const before = await only(image);
    const contents = new Map<string, Buffer>();
    for (const entry of before.entries)
      if (!entry.deleted && entry.kind === 'file')
        contents.set(entry.path, Buffer.from(await before.read(entry)));
    const volume = await open(image);
    const bytes = bytesOf(1280);
    const type = volume.filesystem === 'catalogue16' ? 'B' : undefined;
    volume.put(fresh, bytes, { modified: '1991-05-06T07:08:10', type });
    const other = fresh.replace('NEW', 'OTHER');
    volume.put(other, bytesOf(256, 9), { type });
    volume.rename(other, fresh.replace('NEW', 'RENAMED'));
    // One of its own that may go.
    const gone = before.entries.find(
      (entry) =>
        !entry.deleted &&
        entry.kind === 'file' &&
        !entry.locked &&
        !entry.damaged &&
        entry.type !== 'REL' &&
        volume.refuseName(entry.recordedName) === null &&
        !entry.path.includes('/') &&
        refusalOf(() => volume.remove(entry.path)) === null,
    );
    if (gone) contents.delete(gone.path);
    const after = await only(image);
    expect(after.problems.map(({ kind }) => kind).sort()).toEqual(
      before.problems.map(({ kind }) => kind).sort(),
    );
    const live = new Map(
      after.entries
        .filter(({ deleted, kind }) => !deleted && kind === 'file')
        .map((entry) => [entry.path, entry]),
    );
    expect([...live.keys()].sort()).toEqual(
      [...contents.keys(), fresh, fresh.replace('NEW', 'RENAMED')].sort(),
    );
    for (const [path, wanted] of contents)
      expect(Buffer.compare(await after.read(live.get(path)!), wanted)).toBe(0);
    expect(Buffer.compare((await after.read(live.get(fresh)!)).subarray(0, 1280), bytes)).toBe(0);
  },
);

test('what a volume can’t take is refused with its reason', () => {
  const d64 = new WritableD64(formatD64('d64'));
  expect(refusalOf(() => d64.put('SEVENTEEN LETTERS', bytesOf(1)))).toBe('name');
  expect(refusalOf(() => d64.put('A:B', bytesOf(1)))).toBe('name');
  expect(refusalOf(() => d64.put('BIG', bytesOf(665 * 254)))).toBe('full');
  expect(refusalOf(() => d64.put('X', bytesOf(1), { type: 'REL' }))).toBe('kind');
  expect(refusalOf(() => d64.makeFolder())).toBe('no-folders');
  for (let i = 0; i < 144; i++) d64.put(`F${i}`, bytesOf(1));
  expect(refusalOf(() => d64.put('ONE TOO MANY', bytesOf(1)))).toBe('directory-full');
  const fat = new WritableFat(formatFat(FAT_FORMATS[163_840]!));
  fat.makeFolder('LOGS');
  fat.put('LOGS/FOG.TXT', bytesOf(600));
  expect(refusalOf(() => fat.remove('LOGS'))).toBe('not-empty');
  expect(refusalOf(() => fat.put('LOGS', bytesOf(1)))).toBe('is-folder');
  expect(refusalOf(() => fat.put('NOWHERE/X', bytesOf(1)))).toBe('missing');
  expect(refusalOf(() => fat.put('longer than eight.txt', bytesOf(1)))).toBe('name');
  fat.setAttributes('LOGS/FOG.TXT', { locked: true });
  expect(refusalOf(() => fat.put('LOGS/FOG.TXT', bytesOf(1)))).toBe('locked');
  expect(refusalOf(() => fat.rename('LOGS/FOG.TXT', 'FOG.TXT'))).toBeNull();
  // Whose two tables differ, one can't say which of its files are whole: a byte of the second.
  const torn = formatFat(FAT_FORMATS[163_840]!);
  torn[512 * 2 + 5]! ^= 0x10;
  expect(refusalOf(() => new WritableFat(torn))).toBe('damaged');
  expect(refusalOf(() => new WritableProdos(new Uint8Array(143_360)))).toBe('damaged');
  expect(refusalOf(() => new WritableD64(new Uint8Array(1000)))).toBe('damaged');
  expect(refusalOf(() => new WritableCatalogue16(new Uint8Array(143_360)))).toBe('damaged');
  const catalogue = new WritableCatalogue16(formatCatalogue16());
  expect(refusalOf(() => catalogue.put('TEXT', Uint8Array.of(65, 0, 66), { type: 'T' }))).toBe(
    'kind',
  );
});

test.each([
  [new WritableFat(formatFat(FAT_FORMATS[368_640]!)), 'Übersicht der Tonnen.text', 'UBERSICH.TEX'],
  [new WritableFat(formatFat(FAT_FORMATS[368_640]!)), '.hidden', 'HIDDEN'],
  [new WritableD64(formatD64('d64')), 'Fog:log, 1987', 'FOG-LOG- 1987'],
  [new WritableProdos(formatProdos(280)), '1987 Fog Logs (North Mole).txt', 'FOG.LOGS.NO.TXT'],
  [new WritableCatalogue16(formatCatalogue16()), '1. fog, log', 'FOG. LOG'],
  [new WritableGranule(formatGranule()), 'horn program.bas', 'HORNPROG.BAS'],
  [new WritableCpm(formatCpm(CPM_8_INCH), CPM_8_INCH), 'fog*log?.t', 'FOG-LOG-.T'],
])('%# a name that may stand is suggested', (volume, wished, wanted) => {
  expect(volume.suggestName(wished)).toBe(wanted);
  expect(volume.refuseName(volume.suggestName(wished))).toBeNull();
});

test.each(EDITED.map((family) => [family.name, family] as const))(
  '%s: random edits leave it clean, and equal to a model of it',
  async (_, family) => {
    let refused = 0;
    for (let i = 0; i < 12; i++) refused += (await editSequence(family, `unit ${i}`, 12)).refused;
    expect(refused).toBeGreaterThan(0);
  },
);

const FSCK = ['/usr/sbin/fsck.fat', '/sbin/fsck.fat'].find((path) => existsSync(path));

test('FAT volumes that were edited pass an independent checker', async () => {
  // Installed by the test script; without it the check of our own has to do.
  if (!FSCK) return;
  const folder = mkdtempSync(join(tmpdir(), 'spindle-fsck-'));
  try {
    for (const family of EDITED.filter(({ name }) => name.startsWith('fat'))) {
      for (let i = 0; i < 6; i++) {
        let image = new Uint8Array(0);
        const kept = {
          ...family,
          blank: () => (image = family.blank() as Uint8Array<ArrayBuffer>),
        };
        await editSequence(kept, `fsck ${i}`, 15);
        writeFileSync(join(folder, 'x.img'), image);
        const { status, stdout } = spawnSync(FSCK, ['-n', join(folder, 'x.img')], {
          encoding: 'utf8',
        });
        expect({ status, stdout }).toMatchObject({ status: 0 });
      }
    }
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});
