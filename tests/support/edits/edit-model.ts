/**
 * Random edits of a volume, held against a model of what should be on it: what the core's own
 * reader and checker make of the image must be the model, and without a problem.
 */
import { tell } from '@/messages/tell';
import { asWritten } from '@/core/said';
import { memorySource, type ByteSource } from '@/core/bits/byte-source';
import { seededRandom, type Random } from '@/core/bits/random';
import { inOrder, type CpmParameters } from '@/core/volume/cpm/parameters';
import { CPM_8_INCH } from '@/core/identify/make-blank';
import { openCpm } from '@/core/volume/cpm/read';
import { WritableCpm, formatCpm } from '@/core/volume/cpm/write';
import { openCatalogue16 } from '@/core/volume/catalogue16/read';
import { probeCatalogue16 } from '@/core/volume/catalogue16/probe';
import { WritableCatalogue16 } from '@/core/volume/catalogue16/write';
import { formatCatalogue16 } from '@/core/volume/catalogue16/format';
import { openD64 } from '@/core/volume/d64/read';
import { probeD64 } from '@/core/volume/d64/probe';
import { WritableD64 } from '@/core/volume/d64/write';
import { formatD64 } from '@/core/volume/d64/format';
import { openFat } from '@/core/volume/fat/open';
import { probeFat } from '@/core/volume/fat/probe';
import { WritableFat } from '@/core/volume/fat/write';
import { FAT_FORMATS, fat16Format, formatFat } from '@/core/volume/fat/format';
import { openGranule } from '@/core/volume/granule/read';
import { WritableGranule, formatGranule } from '@/core/volume/granule/write';
import { openProdos } from '@/core/volume/prodos/read';
import { WritableProdos } from '@/core/volume/prodos/write';
import { formatProdos } from '@/core/volume/prodos/format';
import { openSampler } from '@/core/volume/sampler/read';
import { WritableSampler } from '@/core/volume/sampler/write';
import type { Volume } from '@/core/volume/volume';
import { VolumeRefusal, type WritableVolume } from '@/core/volume/writable';
import { blankSamplerDisk } from '../sound/sampler-disks';

const CPM_WIDE: CpmParameters = {
  sectorBytes: 512,
  sectorsPerTrack: 9,
  tracks: 160,
  reservedTracks: 2,
  blockSize: 2048,
  directoryEntries: 128,
  skew: inOrder(9),
};

interface EditedFamily {
  name: string;
  blank(): Uint8Array;
  writable(image: Uint8Array): WritableVolume;
  open(source: ByteSource): Promise<Volume>;
  /** Kinds of files that are tried. */
  types: readonly string[];
  /** Files are as long as whole records of this many bytes. */
  record: number;
  largest: number;
}

const fat = (name: string, blank: () => Uint8Array, largest: number): EditedFamily => ({
  name,
  blank,
  largest,
  types: [],
  record: 1,
  writable: (image) => new WritableFat(image),
  open: async (source) => openFat(source, (await probeFat(source))!),
});
const d64 = (kind: 'd64' | 'd71' | 'd81', largest: number): EditedFamily => ({
  name: kind,
  blank: () => formatD64(kind, { label: 'EDITED', id: 'ED' }),
  largest,
  types: ['PRG', 'SEQ', 'USR'],
  record: 1,
  writable: (image) => new WritableD64(image),
  open: async (source) => openD64(source, (await probeD64(source))!),
});
const cpm = (name: string, parameters: CpmParameters, largest: number): EditedFamily => ({
  name,
  blank: () => formatCpm(parameters),
  largest,
  types: [],
  record: 128,
  writable: (image) => new WritableCpm(image, parameters),
  open: (source) => openCpm(source, { parameters }),
});

const MAIN = 'MAIN';

function blankSampler(): Uint8Array {
  const image = blankSamplerDisk(90, 20);
  new WritableSampler(image).makeFolder(`A/${MAIN}`);
  return image;
}

/** Files of the model's root stand in one volume, its folders are volumes beside it. */
function inSampler(image: Uint8Array): WritableVolume {
  const volume = new WritableSampler(image);
  const isFolder = (path: string) => FOLDERS.includes(path);
  const at = (path: string) =>
    isFolder(path) || path.includes('/') ? `A/${path}` : `A/${MAIN}/${path}`;
  return {
    filesystem: volume.filesystem,
    image,
    hasFolders: true,
    keeps: volume.keeps,
    refuseName: (name) => volume.refuseName(name),
    suggestName: (wished) => volume.suggestName(wished),
    cost: (bytes) => volume.cost(bytes),
    room: () => volume.room(),
    put: (path, bytes, attributes) => volume.put(at(path), bytes, attributes),
    remove: (path) => volume.remove(at(path)),
    rename: (path, name) => volume.rename(at(path), name),
    makeFolder: (path) => volume.makeFolder(at(path)),
    setAttributes: (path, attributes) => volume.setAttributes(at(path), attributes),
  };
}

async function openedSampler(source: ByteSource): Promise<Volume> {
  const volume = await openSampler(source);
  const entries = volume.entries
    .filter(({ path }) => path !== `A/${MAIN}`)
    .map((entry) => ({
      ...entry,
      path: entry.path.replace('A/', '').replace(`${MAIN}/`, ''),
    }));
  return {
    filesystem: volume.filesystem,
    label: volume.label,
    totalBytes: volume.totalBytes,
    freeBytes: volume.freeBytes,
    problems: volume.problems,
    entries,
    read: (entry) => volume.read(entry),
    stream: (entry) => volume.stream(entry),
  };
}

export const EDITED: readonly EditedFamily[] = [
  fat('fat12, 160 KiB', () => formatFat(FAT_FORMATS[163_840]!, { label: 'EDITED' }), 40_000),
  fat('fat12, 360 KiB', () => formatFat(FAT_FORMATS[368_640]!), 90_000),
  fat('fat16', () => formatFat(fat16Format(4300, { heads: 2 }), { label: 'EDITED' }), 400_000),
  d64('d64', 60_000),
  d64('d71', 120_000),
  d64('d81', 250_000),
  {
    name: 'prodos, 280 blocks',
    blank: () => formatProdos(280, { label: 'EDITED' }),
    largest: 60_000,
    types: ['04', '06', 'FC'],
    record: 1,
    writable: (image) => new WritableProdos(image),
    open: openProdos,
  },
  {
    name: 'prodos, 1,600 blocks',
    blank: () => formatProdos(1600, { label: 'EDITED' }),
    largest: 300_000,
    types: ['04', '06'],
    record: 1,
    writable: (image) => new WritableProdos(image),
    open: openProdos,
  },
  {
    name: 'catalogue16',
    blank: () => formatCatalogue16(),
    largest: 50_000,
    types: ['B', 'A', 'T'],
    record: 1,
    writable: (image) => new WritableCatalogue16(image),
    open: async (source) => openCatalogue16(source, (await probeCatalogue16(source))!),
  },
  cpm('cpm, 8-inch', CPM_8_INCH, 60_000),
  cpm('cpm, blocks of 2,048', CPM_WIDE, 150_000),
  {
    name: 'granule',
    blank: formatGranule,
    largest: 60_000,
    types: ['0', '1', '2', '3'],
    record: 1,
    writable: (image) => new WritableGranule(image),
    open: openGranule,
  },
  {
    name: 'sampler',
    blank: blankSampler,
    largest: 300_000,
    types: ['s', 'p', 'd'],
    record: 1,
    writable: inSampler,
    open: openedSampler,
  },
];

/** Families whose files can't be locked. */
const LOCKLESS = ['granule', 'sampler'];

interface Modelled {
  bytes: Uint8Array;
  locked: boolean;
}

const NAMES = [
  'FOG',
  'TIDES',
  'LAMP',
  'HORN',
  'MOLE',
  'BUOYS',
  'DUES',
  'WATCH',
  'SOUND',
  'PLOT',
  'GAUGE',
  'BELL',
];
const FOLDERS = ['NORTH', 'SOUTH'];

function content(random: Random, { largest }: EditedFamily, isText: boolean): Uint8Array {
  // Mostly small, at times as much as a good part of the disk, at times just about a unit.
  const length =
    random.below(4) === 0
      ? random.below(largest)
      : random.below(5) === 0
        ? [0, 1, 254, 255, 256, 508, 512, 2304, 2305, 1024][random.below(10)]!
        : random.below(3000);
  const bytes = new Uint8Array(length);
  const first = random.below(256);
  for (let i = 0; i < length; i++) bytes[i] = (first + i * 7 + (i >> 8)) & 0xff;
  if (isText) for (let i = 0; i < length; i++) bytes[i]! |= 0x80;
  return bytes;
}

/**
 * One sequence of edits; throws where the volume and its model part. Gives how many edits were
 * made, and how many refused.
 */
export async function editSequence(
  family: EditedFamily,
  seed: string,
  edits: number,
): Promise<{ made: number; refused: number }> {
  const random = seededRandom(`${family.name}/${seed}`);
  const image = family.blank();
  const volume = family.writable(image);
  const files = new Map<string, Modelled>();
  const folders = new Set<string>();
  let [made, refused] = [0, 0];
  const pick = <T>(list: readonly T[]): T => list[random.below(list.length)]!;
  const name = () => pick(NAMES);
  const somewhere = () =>
    folders.size > 0 && random.below(3) === 0 ? `${pick([...folders])}/${name()}` : name();
  for (let edit = 0; edit < edits; edit++) {
    const before = volume.room().free;
    const whole = image.slice();
    const kind = random.below(10);
    try {
      if (kind < 5) {
        const path = somewhere();
        const type = family.types.length > 0 ? pick(family.types) : undefined;
        const bytes = content(random, family, type === 'T');
        if (files.get(path)?.locked) throw new VolumeRefusal('locked', asWritten('by the model'));
        volume.put(path, bytes, { type, modified: '1991-04-09T11:22:30', locked: false });
        files.set(path, { bytes, locked: false });
      } else if (kind < 7) {
        const path = files.size > 0 ? pick([...files.keys()]) : name();
        volume.remove(path);
        files.delete(path);
      } else if (kind === 7) {
        const path = files.size > 0 ? pick([...files.keys()]) : name();
        const to = name();
        const target = path.includes('/') ? `${path.slice(0, path.lastIndexOf('/'))}/${to}` : to;
        volume.rename(path, to);
        const there = files.get(path)!;
        files.delete(path);
        files.set(target, there);
      } else if (kind === 8) {
        const path = pick(FOLDERS);
        if (
          folders.has(path) &&
          ![...files.keys()].some((each) => each.startsWith(`${path}/`)) &&
          random.below(2) === 0
        ) {
          volume.remove(path);
          folders.delete(path);
        } else {
          volume.makeFolder(path, { modified: '1990-01-01T10:00:00' });
          folders.add(path);
        }
      } else {
        const path = files.size > 0 ? pick([...files.keys()]) : name();
        const locked = random.below(3) === 0;
        volume.setAttributes(path, { locked });
        const there = files.get(path);
        if (there && !LOCKLESS.includes(family.name)) there.locked = locked;
      }
      made++;
    } catch (error) {
      if (!(error instanceof VolumeRefusal)) throw error;
      refused++;
      // A change is made whole or not at all.
      if (Buffer.compare(image, whole) !== 0)
        throw new Error(
          `${family.name}, ${seed}: what was refused (${error.message}) changed the image`,
        );
      if (volume.room().free !== before)
        throw new Error(`${family.name}, ${seed}: what was refused changed the room`);
    }
  }
  await compare(family, image, files, folders, `${family.name}, seed ${seed}`);
  return { made, refused };
}

async function compare(
  family: EditedFamily,
  image: Uint8Array,
  files: ReadonlyMap<string, Modelled>,
  folders: ReadonlySet<string>,
  where: string,
): Promise<void> {
  const opened = await family.open(memorySource(image));
  if (opened.problems.length > 0)
    throw new Error(`${where}: ${opened.problems.map(({ said }) => tell(said)).join(' ')}`);
  const live = opened.entries.filter(({ deleted }) => !deleted);
  const paths = live.map(({ path, kind }) => (kind === 'directory' ? `${path}/` : path)).sort();
  const wanted = [...[...folders].map((each) => `${each}/`), ...files.keys()].sort();
  if (paths.join() !== wanted.join())
    throw new Error(`${where}: it lists ${paths.join(', ')} and should list ${wanted.join(', ')}`);
  for (const entry of live) {
    if (entry.kind === 'directory') continue;
    const { bytes, locked } = files.get(entry.path)!;
    const read = await opened.read(entry);
    const length = Math.ceil(bytes.length / family.record) * family.record;
    if (read.length !== length || Buffer.compare(read.subarray(0, bytes.length), bytes) !== 0)
      throw new Error(
        `${where}: ${entry.path} reads as ${read.length} other bytes than the ${bytes.length} that were put`,
      );
    if (entry.locked !== locked && !LOCKLESS.includes(family.name))
      throw new Error(`${where}: ${entry.path} is ${entry.locked ? '' : 'not '}locked`);
  }
  if (
    family.name.startsWith('fat') ||
    family.name.startsWith('prodos') ||
    family.name.startsWith('d') ||
    LOCKLESS.includes(family.name)
  ) {
    const { free, unitBytes } = family.writable(image).room();
    if (free * unitBytes !== opened.freeBytes)
      throw new Error(
        `${where}: ${free * unitBytes} bytes free by the one, ${opened.freeBytes} by the other`,
      );
  }
}
