/** Areas and fields laid over the bytes of volumes, by what the vectors are known to hold. */
import { loadVector } from '../../../tests/support/vectors';
import { memorySource } from '../bits/byte-source';
import { said, type Said } from '../said';
import { VOLUME_FAMILIES } from '../volume/families';
import { areasOf } from './areas';
import { fileFields } from './file-fields';
import { valueOf } from './field-value';

const areas = (name: string, filesystem: string) =>
  areasOf(memorySource(loadVector(`volumes/${name}`)), filesystem);

/** The name of a field as code and, of one in a row of records, which record. */
const nameOf = ({ code, with: about }: Said): string => {
  if (code !== 'values.inRecord') return code;
  const [record, field] = [about!.record as Said, about!.field as Said];
  return `${record.code} ${record.with!.number} ${field.code}`;
};

async function valuesIn(vector: string, filesystem: string, area: string) {
  const found = (await areas(vector, filesystem)).find(({ name }) => name.code === area)!;
  return Object.fromEntries(found.fields.map(({ name, value }) => [nameOf(name), value]));
}

const place = (track: number, sector: number) => said('values.trackAndSector', { track, sector });

test('the areas of a FAT volume lie where its boot sector says', async () => {
  const fat = await areas('fat12-720k.img', 'fat12');
  expect(fat.map(({ name, offset, length }) => [name, offset, length])).toEqual([
    [said('areas.bootSector'), 0, 512],
    [said('areas.fat', { number: 1 }), 512, 1536],
    [said('areas.fat', { number: 2 }), 2048, 1536],
    [said('areas.rootDirectory'), 3584, 3584],
  ]);
});

test.each([
  ['fat12-720k.img', 'fat12', 'areas.bootSector', 'fields.sectorBytes', '512'],
  ['fat12-720k.img', 'fat12', 'areas.bootSector', 'fields.sectors', '1\u2009440'],
  ['fat12-720k.img', 'fat12', 'areas.fat', 'fields.mediaByte', 'F9h'],
  ['d64-plain.d64', 'd64', 'areas.mapAndHeader', 'fields.directorySector', place(18, 1)],
  ['d64-plain.d64', 'd64', 'areas.mapAndHeader', 'fields.format', '“A”'],
  ['d64-plain.d64', 'd64', 'areas.directory', 'records.entry 1 fields.name', '“TIDES 1987”'],
  ['d71-plain.d71', 'd71', 'areas.mapAndHeader', 'fields.twoSides', '80h'],
  ['d81-plain.d81', 'd81', 'areas.header', 'fields.dosVersion', '“3D”'],
  ['d81-plain.d81', 'd81', 'areas.header', 'fields.format', '“D”'],
  ['prodos-280.po', 'prodos', 'areas.volumeDirectory', 'fields.blocks', '280'],
  ['prodos-280.po', 'prodos', 'areas.volumeDirectory', 'fields.entryLength', '39'],
  ['prodos-280.po', 'prodos', 'areas.volumeDirectory', 'fields.blockAfter', '3'],
  ['prodos-280.po', 'prodos', 'areas.volumeDirectory', 'records.entry 1 fields.name', '“README”'],
  ['prodos-1600.po', 'prodos', 'areas.volumeDirectory', 'fields.blocks', '1\u2009600'],
  [
    'catalogue16-plain.do',
    'catalogue16',
    'areas.tableOfContents',
    'fields.catalogueSector',
    place(17, 15),
  ],
  ['catalogue16-plain.do', 'catalogue16', 'areas.tableOfContents', 'fields.tracks', '35'],
  ['catalogue16-plain.do', 'catalogue16', 'areas.tableOfContents', 'fields.pairsAList', '122'],
  [
    'catalogue16-plain.do',
    'catalogue16',
    'areas.catalogue',
    'records.entry 1 fields.name',
    '“TIDE TABLE 1986”',
  ],
  ['granule-plain.img', 'granule', 'areas.directory', 'records.entry 1 fields.name', '“TIDES”'],
  ['mbr-small.img', 'mbr', 'areas.masterBootRecord', 'fields.bootMark', '55 AAh'],
  [
    'sampler-two-partitions.img',
    'sampler',
    'areas.volumeTable',
    'records.volume 1 fields.name',
    expect.stringMatching(/^“[A-Z0-9 ]+”$/),
  ],
])('%s as %s: %s, %s', async (vector, filesystem, area, field, value) => {
  expect((await valuesIn(vector, filesystem, area))[field]).toEqual(value);
});

const FILESYSTEMS = ['mbr', ...VOLUME_FAMILIES.flatMap(({ filesystems }) => filesystems)];

test.each(FILESYSTEMS)('%s: every field lies in its area and in the source', async (filesystem) => {
  for (const size of [0, 100, 3000, 100_000, 500_000]) {
    const bytes = Uint8Array.from({ length: size }, (_, i) => (i * 131 + (i >> 7)) & 0xff);
    // What a boot sector would have of its sizes, as large as it can be.
    bytes.set([0, 2, 255, 255, 255, 255, 255, 255].slice(0, Math.max(0, size - 11)), size && 11);
    for (const { offset, length, fields } of await areasOf(memorySource(bytes), filesystem)) {
      expect(offset + length).toBeLessThanOrEqual(size);
      for (const field of fields) {
        expect(field.offset).toBeGreaterThanOrEqual(offset);
        expect(field.offset + field.length).toBeLessThanOrEqual(offset + length);
      }
    }
  }
});

test('the same fields of a volume are never laid over each other', async () => {
  for (const [vector, filesystem] of [
    ['fat12-720k.img', 'fat12'],
    ['fat32-head.img', 'fat32'],
    ['d64-plain.d64', 'd64'],
    ['d71-plain.d71', 'd71'],
    ['d81-plain.d81', 'd81'],
    ['prodos-280.po', 'prodos'],
    ['catalogue16-plain.do', 'catalogue16'],
    ['granule-plain.img', 'granule'],
    ['sampler-two-partitions.img', 'sampler'],
    ['mbr-small.img', 'mbr'],
  ] as const) {
    for (const { fields } of await areas(vector, filesystem))
      for (const [i, field] of fields.entries()) {
        const before = fields[i - 1];
        const overlaps = before !== undefined && before.offset + before.length > field.offset;
        expect([filesystem, nameOf(field.name), overlaps]).toEqual([
          filesystem,
          nameOf(field.name),
          false,
        ]);
      }
  }
});

test.each([
  ['u8', [7], '7'],
  ['u16', [0x34, 0x12], '4\u2009660'],
  ['u16be', [0x12, 0x34], '4\u2009660'],
  ['u24', [1, 0, 1], '65\u2009537'],
  ['u32', [0, 0, 0, 0x80], '2\u2009147\u2009483\u2009648'],
  ['s8', [0xfe], '-2'],
  ['text', [0x41, 0x84, 0, 0], '“Aä”'],
  ['high-text', [0xc1, 0xa0, 0xc2], '“A B”'],
  ['sampler-text', [11, 12, 0], '“AB0”'],
  ['bytes', [0xde, 0xad], 'DE ADh'],
  ['date-time', [0, 0, 0, 0], said('values.noneGiven')],
  ['date-time', [0, 0, 0xff, 0xff], said('values.noMoment')],
  ['date-time', [0x4a, 0x4b, 0x6e, 0x0e], '1987-03-14 09:26:20'],
  ['track-sector', [17, 0], place(17, 0)],
] as const)('a field read as %s: %j', (kind, bytes, value) => {
  expect(valueOf(Uint8Array.from(bytes), kind)).toEqual(value);
});

test('bytes that are many are counted', () => {
  expect(valueOf(new Uint8Array(17), 'bytes')).toEqual(said('values.soManyBytes', { bytes: 17 }));
});

test.each([
  ['d64', 'PRG', [0x01, 0x08, 0x99], [['fields.loadsAt', 0, 2, '01 08h']]],
  ['d71', 'PRG', [0x01], []],
  ['d64', 'SEQ', [0x01, 0x08, 0x99], []],
  [
    'granule',
    '0',
    [0xff, 0x01, 0x00],
    [
      ['fields.programMark', 0, 1, 'FFh'],
      ['fields.length', 1, 2, '256'],
    ],
  ],
  [
    'granule',
    '2',
    [0, 0, 9, 0x0e, 0],
    [
      ['fields.blockMark', 0, 1, '00h'],
      ['fields.length', 1, 2, '9'],
      ['fields.loadsAt', 3, 2, '0E 00h'],
    ],
  ],
  ['sampler', null, [2], []],
] as const)('the first bytes of a file of %s, type %s', (filesystem, type, bytes, wanted) => {
  const fields = fileFields(Uint8Array.from(bytes), filesystem, type);
  expect(fields.map((each) => [nameOf(each.name), each.offset, each.length, each.value])).toEqual(
    wanted,
  );
});
