import { loadVector } from '../../../tests/support/vectors';
import { memorySource } from '../bits/byte-source';
import { areasOf, fileFields } from './structure';

const areas = (name: string, filesystem: string) =>
  areasOf(memorySource(loadVector(`volumes/${name}`)), filesystem);
const value = (of: Awaited<ReturnType<typeof areas>>, area: string, field: string) =>
  of.find(({ name }) => name === area)!.fields.find(({ name }) => name === field)?.value;

test('areas and fields of each kind of volume, by what the vectors are known to hold', async () => {
  const fat = await areas('fat12-720k.img', 'fat12');
  expect(fat.map(({ name, offset, length }) => [name, offset, length])).toEqual([
    ['Boot sector', 0, 512],
    ['FAT 1', 512, 1536],
    ['FAT 2', 2048, 1536],
    ['Root directory', 3584, 3584],
  ]);
  expect([
    value(fat, 'Boot sector', 'bytes a sector'),
    value(fat, 'Boot sector', 'sectors'),
    value(fat, 'FAT 1', 'media byte'),
  ]).toEqual(['512', '1,440', 'F9h']);
  const d64 = await areas('d64-plain.d64', 'd64');
  expect([
    value(d64, 'Map and header', 'directory begins at'),
    value(d64, 'Map and header', 'format'),
    value(d64, 'Directory', 'entry 1: name'),
  ]).toEqual(['track 18, sector 1', '“A”', '“TIDES 1987”']);
  const d81 = await areas('d81-plain.d81', 'd81');
  expect([value(d81, 'Header', 'version'), value(d81, 'Header', 'format')]).toEqual([
    '“3D”',
    '“D”',
  ]);
  const prodos = await areas('prodos-280.po', 'prodos');
  expect([
    value(prodos, 'Volume directory', 'blocks'),
    value(prodos, 'Volume directory', 'entry length'),
    value(prodos, 'Volume directory', 'entry 1: name'),
  ]).toEqual(['280', '39', '“README”']);
  const catalogue = await areas('catalogue16-plain.do', 'catalogue16');
  expect([
    value(catalogue, 'Table of contents', 'first catalogue sector'),
    value(catalogue, 'Table of contents', 'tracks'),
    value(catalogue, 'Catalogue', 'entry 1: name'),
  ]).toEqual(['track 17, sector 15', '35', '“TIDE TABLE 1986”']);
  expect(value(await areas('granule-plain.img', 'granule'), 'Directory', 'entry 1: name')).toBe(
    '“TIDES”',
  );
  expect(
    value(await areas('mbr-small.img', 'mbr'), 'Master boot record', 'mark of a boot sector'),
  ).toBe('55 AAh');
  expect(
    value(await areas('sampler-two-partitions.img', 'sampler'), 'Volume table', 'volume 1: name'),
  ).toMatch(/^“[A-Z0-9 ]+”$/);
});

test('every field lies in its area and in the source, whatever the bytes are', async () => {
  for (const filesystem of [
    'fat12',
    'fat32',
    'd64',
    'd71',
    'd81',
    'prodos',
    'catalogue16',
    'granule',
    'sampler',
    'wavesample',
    'mbr',
    'cpm',
  ]) {
    for (const size of [0, 100, 3000, 100_000, 500_000]) {
      const bytes = Uint8Array.from({ length: size }, (_, i) => (i * 131 + (i >> 7)) & 0xff);
      bytes.set(
        [0x00, 0x02, 0xff, 0xff, 0xff, 0xff, 0xff, 0xff].slice(0, Math.max(0, size - 11)),
        Math.min(11, size),
      );
      for (const { offset, length, fields } of await areasOf(memorySource(bytes), filesystem)) {
        expect(offset + length).toBeLessThanOrEqual(size);
        for (const field of fields)
          expect([field.offset >= offset, field.offset + field.length <= offset + length]).toEqual([
            true,
            true,
          ]);
      }
    }
  }
});

test('the first bytes of files', () => {
  expect(fileFields(Uint8Array.of(0x01, 0x08, 0x99), 'd64', 'PRG')).toEqual([
    { offset: 0, length: 2, name: 'loads at', value: '01 08h' },
  ]);
  expect(fileFields(Uint8Array.of(1), 'd64', 'PRG')).toEqual([]);
});
