/**
 * ISO 9660 discs (ECMA-119) in their three views: plain, Joliet, Rock Ridge; with El Torito's
 * catalogue looked at.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import { extentVolume, ProblemList } from '../extent-volume';
import type { Volume, VolumeEntry } from '../volume';
import { readRecord } from './directory-record';
import { skipOf } from './rock-ridge';
import { type Descriptor, descriptorsOf } from './descriptors';
import { checkPathTable, checkBootCatalogue, checkOverlaps } from './check';
import { SECTOR } from './records';
import { said } from '@/core/said';
import { Walk } from './walk';

/** Another directory of the same disc. */
export interface DiscView {
  name: 'joliet' | 'rockridge';
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
  const place = descriptor.at + 156;
  const root = readRecord(descriptor.root, 0, place, descriptor);
  const walked = new Walk(source, descriptor, problems, skip);
  if (root) await walked.directory(root, []);
  else problems.report('descriptor-damaged', place, said('iso9660.theRecordOfThe'));
  return walked;
}

export async function openIso9660(source: ByteSource): Promise<Iso9660> {
  const problems = new ProblemList();
  const { descriptors, bootCatalogue } = await descriptorsOf(source, problems);
  const plain = descriptors.find(({ kind }) => kind === 'plain')!;
  const views: DiscView[] = [];
  const first = await walkFrom(source, plain, problems, null);
  await checkPathTable(source, plain, first.directories, problems);
  checkOverlaps(first.entries, problems);
  if (bootCatalogue !== null) await checkBootCatalogue(source, bootCatalogue, problems);
  // What is wrong in the other views alone is told too; what they share with the plain one was
  // told.
  const told = new Set(problems.all().map(({ kind, offset }) => `${kind}/${offset}`));
  const others: ProblemList = new ProblemList();
  const joliet = descriptors.find(({ kind }) => kind === 'joliet');
  if (joliet)
    views.push({
      name: 'joliet',
      label: joliet.label || null,
      entries: (await walkFrom(source, joliet, others, null)).entries,
    });
  const skip = await rockRidgeSkip(plain, source);
  if (skip !== null)
    views.push({
      name: 'rockridge',
      label: null,
      entries: (await walkFrom(source, plain, others, skip)).entries,
    });
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

async function rockRidgeSkip(plain: Descriptor, source: ByteSource) {
  const rootRecord = readRecord(plain.root, 0, plain.at + 156, plain);
  const self =
    rootRecord &&
    readRecord(
      await source.read((rootRecord.block + rootRecord.attributeBlocks) * plain.blockBytes, SECTOR),
      0,
      0,
      plain,
    );
  const skip = self ? skipOf(self.systemUse) : null;
  return skip;
}
