/** Small volumes of every family to lose a sector of, and where their files' parts stand. */
import { seededRandom } from '@/core/bits/random';
import { BLANK_KINDS, type BlankId } from '@/core/identify/blank-kinds';
import { makeBlank } from '@/core/identify/make-blank';
import { writableVolume } from '@/core/identify/writable-volume';
import { numberIn, u16, u32 } from '@/core/volume/record';
import type { LossShape, OtherPlaces, Read, Stretch } from './one-sector-lost';
import { loadVector } from '../vectors';

interface LossCase extends LossShape {
  name: string;
}

/** Every place of the image at which `test` holds, a step apart. */
function placesWhere(
  image: Uint8Array,
  step: number,
  length: number,
  test: (at: number) => boolean,
): Stretch[] {
  const places: Stretch[] = [];
  for (let at = 0; at + length <= image.length; at += step)
    if (test(at)) places.push({ offset: at, length });
  return places;
}

/** Directory entries of the same size as the file. */
const fatEntries: OtherPlaces = (image, { bytes }) =>
  bytes === 0 ? [] : placesWhere(image, 32, 32, (at) => numberIn(image, u32(28), at) === bytes);

const numberAt = (image: Uint8Array, at: number) => numberIn(image, u16(at));

/** Whether one of so many numbers is the one that is looked for; a loop, it is asked a million times. */
function isAny(count: number, test: (i: number) => boolean): boolean {
  for (let i = 0; i < count; i++) if (test(i)) return true;
  return false;
}

/** Index blocks: those that point to the file's first block. */
const prodosIndexes: OtherPlaces = (image, { places: [first] }: Read) => {
  const block = first ? first.offset / 512 : 0;
  return placesWhere(image, 512, 512, (at) =>
    isAny(256, (i) => (image[at + i]! | (image[at + 256 + i]! << 8)) === block),
  );
};

/** Lists of sectors: those that point to one of the file's. */
const catalogueLists: OtherPlaces = (image, { places }) => {
  const pairs = new Set(places.map(({ offset }) => offset >> 8));
  return placesWhere(image, 256, 256, (at) =>
    isAny(122, (i) => pairs.has(image[at + 12 + 2 * i]! * 16 + image[at + 13 + 2 * i]!)),
  );
};

/** What is after a granule stands in one table only. */
const granuleTable: OtherPlaces = () => [{ offset: (17 * 18 + 1) * 256, length: 256 }];

/** What is after a block stands in its partition's header only. */
const samplerHeaders: OtherPlaces = (image) =>
  placesWhere(image, 0x2000, 3 * 0x2000, (at) => numberAt(image, at + 0x70a) === 0x4000);

/** File entries, which have the file's size and a tag. */
const udfEntries: OtherPlaces = (image, { bytes }) =>
  placesWhere(
    image,
    512,
    512,
    (at) => [261, 266].includes(numberAt(image, at)) && numberIn(image, u32(56), at) === bytes,
  );

/** A volume of our own making with so many files that its directory takes many sectors. */
async function crowded(kind: BlankId, files: number, folders: number): Promise<Uint8Array> {
  const blank = BLANK_KINDS.find(({ id }) => id === kind)!;
  const volume = (await writableVolume(makeBlank(blank, 'CROWDED'), kind))!;
  const random = seededRandom(kind);
  for (let folder = 0; folder < folders; folder++) volume.makeFolder(`FOLDER${folder}`);
  for (let i = 0; i < files; i++) {
    const folder = folders > 0 && i % 2 === 0 ? `FOLDER${i % folders}/` : '';
    // Text of some systems ends at its first zero.
    const bytes = Uint8Array.from(
      { length: 200 + random.below(2500) },
      () => 1 + random.below(255),
    );
    volume.put(`${folder}${volume.suggestName(`LOG${i}.TXT`)}`, bytes);
  }
  return volume.image;
}

const PUBLISHED: readonly LossCase[] = [
  { name: 'volumes/fat12-720k.img', sectorBytes: 512, otherPlaces: fatEntries },
  { name: 'volumes/fat12-old-fe.img', sectorBytes: 512, otherPlaces: fatEntries },
  { name: 'volumes/fat16-small.img', sectorBytes: 512, otherPlaces: fatEntries },
  {
    name: 'volumes/fat32-head.img',
    sectorBytes: 512,
    otherPlaces: fatEntries,
    // Its boot sectors, the parts of its tables that are in use, its root and some of its folders.
    sectors: [
      ...[0, 1, 2, 6, 7, 31, 32, 33, 34, 35, 200, 1000],
      ...Array.from({ length: 30 }, (_, i) => 1060 + i),
      ...Array.from({ length: 20 }, (_, i) => 1320 + i),
    ],
  },
  { name: 'volumes/d64-plain.d64', sectorBytes: 256 },
  { name: 'volumes/d71-plain.d71', sectorBytes: 256 },
  { name: 'volumes/d81-plain.d81', sectorBytes: 256 },
  { name: 'volumes/prodos-280.po', sectorBytes: 512, otherPlaces: prodosIndexes },
  { name: 'volumes/catalogue16-plain.do', sectorBytes: 256, otherPlaces: catalogueLists },
  { name: 'volumes/cpm-8inch.img', sectorBytes: 128 },
  { name: 'volumes/granule-plain.img', sectorBytes: 256, otherPlaces: granuleTable },
  { name: 'volumes/sampler-two-partitions.img', sectorBytes: 512, otherPlaces: samplerHeaders },
  { name: 'volumes/wavesample-six-banks.img', sectorBytes: 1024, keepsNoRecord: true },
  { name: 'volumes/mbr-small.img', sectorBytes: 512, otherPlaces: fatEntries },
  { name: 'optical/vol-plain.iso', sectorBytes: 2048 },
  { name: 'optical/vol-joliet-rr.iso', sectorBytes: 2048 },
  { name: 'optical/vol-udf-bridge.iso', sectorBytes: 2048, otherPlaces: udfEntries },
  { name: 'optical/vol-udf-512.iso', sectorBytes: 512, otherPlaces: udfEntries },
  { name: 'optical/vol-udf-spared.iso', sectorBytes: 2048, otherPlaces: udfEntries },
  { name: 'optical/vol-udf-virtual-200.iso', sectorBytes: 2048, otherPlaces: udfEntries },
  { name: 'optical/vol-udf-metadata.iso', sectorBytes: 2048, otherPlaces: udfEntries },
];

const CROWDED: readonly (LossCase & { kind: BlankId; files: number; folders: number })[] = [
  {
    name: 'crowded fat12',
    kind: 'fat12-360',
    files: 60,
    folders: 3,
    sectorBytes: 512,
    otherPlaces: fatEntries,
    entries: { at: 5 * 512, step: 32, count: 40 },
  },
  {
    name: 'crowded d64',
    kind: 'd64',
    files: 60,
    folders: 0,
    sectorBytes: 256,
    entries: { at: 358 * 256, step: 32, count: 16 },
  },
  {
    name: 'crowded d81',
    kind: 'd81',
    files: 90,
    folders: 0,
    sectorBytes: 256,
    entries: { at: 1563 * 256, step: 32, count: 24 },
  },
  {
    name: 'crowded prodos',
    kind: 'prodos-1600',
    files: 90,
    folders: 4,
    sectorBytes: 512,
    otherPlaces: prodosIndexes,
    entries: { at: 2 * 512 + 4 + 39, step: 39, count: 12 },
  },
  {
    name: 'crowded catalogue16',
    kind: 'catalogue16',
    files: 60,
    folders: 0,
    sectorBytes: 256,
    otherPlaces: catalogueLists,
    entries: { at: (17 * 16 + 15) * 256 + 11, step: 35, count: 7 },
  },
  {
    name: 'crowded cpm',
    kind: 'cpm-8',
    files: 50,
    folders: 0,
    sectorBytes: 128,
    entries: { at: 52 * 128, step: 32, count: 4 },
  },
  {
    name: 'crowded granule',
    kind: 'granule',
    files: 30,
    folders: 0,
    sectorBytes: 256,
    otherPlaces: granuleTable,
    entries: { at: (17 * 18 + 2) * 256, step: 32, count: 24 },
  },
];

export const LOSS_CASES: readonly LossCase[] = [...PUBLISHED, ...CROWDED];

export async function imageOf({ name }: LossCase): Promise<Uint8Array> {
  const own = CROWDED.find((each) => each.name === name);
  return own ? crowded(own.kind, own.files, own.folders) : loadVector(name);
}
