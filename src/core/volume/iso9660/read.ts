/**
 * ISO 9660 discs (ECMA-119) in their three views: plain, Joliet, Rock Ridge; with El Torito's
 * catalogue looked at.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import { extentVolume, ProblemList } from '../extent-volume';
import type { Extent, Volume, VolumeEntry } from '../volume';
import { readRecord } from './directory-record';
import { skipOf } from './rock-ridge';
import { descriptorsOf } from './descriptors';
import { readBootCatalogue } from './boot-catalogue';
import { checkOverlaps, checkPathTable, checkViews } from './check';
import { readPathTable } from './path-table';
import { SECTOR, type Descriptor } from './records';
import { said } from '@/core/said';
import { asOnDisc, sectorsBefore } from './sessions';
import { Walk } from './walk';

/** Another directory of the same disc. */
export interface DiscView {
  name: 'joliet' | 'rockridge' | 'boot';
  label: string | null;
  entries: readonly VolumeEntry[];
}

interface Iso9660 extends Volume {
  readonly views: readonly DiscView[];
  /** It can be started from: El Torito. */
  readonly bootable: boolean;
}

/** All that one view of the disc lists. */
async function walkFrom(
  source: ByteSource,
  descriptor: Descriptor,
  problems: ProblemList,
  skip: number | null,
): Promise<Walk> {
  const place = descriptor.at + ROOT_AT;
  const root = readRecord(descriptor.root, 0, place, descriptor);
  const walk = new Walk(source, descriptor, problems, skip);
  if (root) await walk.directory(root, []);
  else problems.report('descriptor-damaged', place, said('iso9660.theRecordOfThe'));
  if (descriptor.isLost) {
    problems.report('descriptor-damaged', descriptor.at, said('iso9660.theDescriptorIsLost'));
    return walk;
  }
  const paths = await readPathTable(source, descriptor, problems);
  if (descriptor.kind === 'plain' && skip === null)
    checkPathTable(paths, descriptor, walk.directories, problems);
  await walk.lostDirectories(paths);
  return walk;
}

/** Of the root's record in a descriptor. */
const ROOT_AT = 156;

export async function openIso9660(source: ByteSource): Promise<Iso9660> {
  const base = await sectorsBefore(source);
  if (base === 0) return openWhole(source);
  return movedBack(await openWhole(await asOnDisc(source, base)), source, base);
}

/** An entry by places in an image that lacks so many first bytes: cut where it lies in them. */
function entryMovedBack(entry: VolumeEntry, lacking: number): VolumeEntry {
  const isLost = ({ offset }: Extent) => offset >= 0 && offset < lacking;
  const lost = entry.extents.findIndex(isLost);
  const there = lost < 0 ? entry.extents : entry.extents.slice(0, lost);
  const extents = there.map(({ offset, length }) => ({
    offset: offset < 0 ? offset : offset - lacking,
    length,
  }));
  return { ...entry, extents, damaged: entry.damaged || lost >= 0 };
}

/** A volume of an image that lacks the first sectors of its disc, by places in the image. */
function movedBack(volume: Iso9660, source: ByteSource, sectors: number): Iso9660 {
  const lacking = sectors * SECTOR;
  const moved = (entries: readonly VolumeEntry[]) =>
    entries.map((entry) => entryMovedBack(entry, lacking));
  const entries = moved(volume.entries);
  const views = volume.views.map((view) => ({ ...view, entries: moved(view.entries) }));
  const files = entries.filter(({ damaged }, i) => damaged && !volume.entries[i]!.damaged).length;
  const lost = said('iso9660.filesBeforeTheImage', { files, sectors });
  const problems = [
    ...volume.problems.map((each) => ({ ...each, offset: each.offset && each.offset - lacking })),
    ...(files > 0 ? [{ kind: 'truncated' as const, offset: 0, said: lost }] : []),
  ];
  const { bootable } = volume;
  return { ...extentVolume(source, { ...volume, entries, problems }), views, bootable };
}

async function openWhole(source: ByteSource): Promise<Iso9660> {
  const problems = new ProblemList();
  const { descriptors, bootCatalogue } = await descriptorsOf(source, problems);
  const plain = descriptors.find(({ kind }) => kind === 'plain') ?? descriptors[0]!;
  const views: DiscView[] = [];
  const first = await walkFrom(source, plain, problems, null);
  checkOverlaps(first.entries, problems);
  // What is wrong in the other views alone is told too; what they share with the plain one was
  // told.
  const told = new Set(problems.all().map(({ kind, offset }) => `${kind}/${offset}`));
  const others: ProblemList = new ProblemList();
  const joliet = descriptors.find((each) => each.kind === 'joliet' && each !== plain);
  if (joliet) {
    const { entries } = await walkFrom(source, joliet, others, null);
    views.push({ name: 'joliet', label: joliet.label || null, entries });
    checkViews(first.entries, entries, others);
  }
  const skip = await rockRidgeSkip(plain, source);
  if (skip !== null) {
    const { entries } = await walkFrom(source, plain, others, skip);
    views.push({ name: 'rockridge', label: null, entries });
  }
  if (bootCatalogue !== null) {
    const entries = await readBootCatalogue(source, bootCatalogue, problems);
    if (entries.length > 0) views.push({ name: 'boot', label: null, entries });
  }
  for (const { kind, offset, said: what } of others.all())
    if (!told.has(`${kind}/${offset}`)) problems.report(kind, offset, what);
  const size = Math.min(source.size, plain.blocks * plain.blockBytes);
  return {
    ...extentVolume(source, {
      filesystem: 'iso9660',
      label: plain.label || null,
      totalBytes: size,
      freeBytes: 0,
      entries: first.entries,
      problems: problems.all(),
    }),
    views,
    bootable: bootCatalogue !== null,
  };
}

/** Bytes before the system's own area of a record, where the root says that there is one. */
async function rockRidgeSkip(plain: Descriptor, source: ByteSource): Promise<number | null> {
  const root = readRecord(plain.root, 0, plain.at + ROOT_AT, plain);
  if (!root) return null;
  const at = (root.block + root.attributeBlocks) * plain.blockBytes;
  const self = readRecord(await source.read(at, SECTOR), 0, 0, plain);
  return self ? skipOf(self.systemUse) : null;
}
