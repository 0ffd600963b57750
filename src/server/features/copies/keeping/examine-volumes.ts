/**
 * What is found in an image: its volumes with their files, digests and words. It takes long, so
 * nothing is kept here but the words of files, which belong to their bytes and not to a copy.
 */
import type { Said } from '@/core/said';
import { sliceSource, type ByteSource } from '@/core/bits/byte-source';
import { toHex } from '@/core/digester';
import type { FoundVolume } from '@/core/identify/found-volume';
import { identifyVolumes } from '@/core/identify/identify';
import { volumesInside } from '@/core/identify/inside';
import type { Problem } from '@/core/problems';
import { areasOf } from '@/core/structure/areas';
import { transcriptOf } from '@/core/text/transcript';
import { directoriesOf, type ViewName } from '@/core/volume/disc-volume';
import { sectorsIn, type Doubts } from '@/core/block/image-doubts';
import { EndedEarly } from '@/core/volume/ended-early';
import { doubtsOfFile } from '@/core/volume/extent-source';
import { leftOutProblems, ReadingBudget, ReadOnce } from '@/core/volume/reading-budget';
import { HOLE, isWhole, type Extent, type Volume, type VolumeEntry } from '@/core/volume/volume';
import { nodeDigester } from '@/node/digester';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { digestOfStream } from '@/server/platform/threads/threaded-hash';
import { storableProblems } from './storable-problems';
import type { files, volumes } from '../tables';

/** Files above this are not searched for words. */
const TEXT_LIMIT = 256 << 10;
const BOOT_RECORD_BYTES = 512;
/** Files from this size on are hashed on a thread, while the next piece is read. */
const THREADED_FROM = 4 << 20;

export interface ExaminedVolume {
  row: Omit<typeof volumes.$inferInsert, 'fairCopyId'>;
  files: Omit<typeof files.$inferInsert, 'volumeId'>[];
}

export interface ExaminedVolumes {
  volumes: ExaminedVolume[];
  problems: Problem[];
  /** What structures and files of the image lie in. */
  inUse: Extent[];
  /** Files that the volumes list; deleted ones apart. */
  fileCount: number;
}

/** Keeps a file's words under the digest of its bytes. */
export type KeepText = (sha256: string, body: string) => Promise<void>;

/** Null where the file ended early. */
interface Digested {
  sha256: string | null;
}
type Once = ReadOnce<Digested>;

interface Examination {
  source: ByteSource;
  inDoubt: Doubts;
  keepText: KeepText;
  budget: ReadingBudget;
}

/** A volume with its place in the image, and the file that it lies in where it lies in one. */
interface Placed {
  view?: ViewName;
  volume: Volume;
  partition: number | null;
  offset: number;
  length: number;
  reasons: Said[];
  inside: string | null;
}

/** Every volume of an image, and every image that is kept as a file on one of them. */
export async function examineVolumes(
  source: ByteSource,
  inDoubt: Doubts,
  keepText: KeepText,
): Promise<ExaminedVolumes> {
  const budget = new ReadingBudget(source.size);
  const examination = { source, inDoubt, keepText, budget };
  const { volumes: found, problems, partitions } = await identifyVolumes(source);
  const examined: ExaminedVolume[] = [];
  const inUse: Extent[] = [];
  let fileCount = 0;
  if (partitions.length > 0) inUse.push({ offset: 0, length: BOOT_RECORD_BYTES });
  for (const each of found) {
    const { entries } = directoriesOf(each.volume);
    fileCount += entries.filter(isFile).length;
    inUse.push(...(await extentsInUse(source, each, entries)));
    examined.push(...(await examineViews(examination, each)));
    examined.push(...(await examineInside(examination, each, entries)));
  }
  return { volumes: examined, problems, inUse, fileCount };
}

const isFile = ({ kind, deleted }: VolumeEntry) => kind === 'file' && !deleted;

/** Where a volume's own structures and its files lie, by their place in the image. */
async function extentsInUse(
  source: ByteSource,
  { volume, offset, length }: FoundVolume,
  entries: readonly VolumeEntry[],
): Promise<Extent[]> {
  const areas: Extent[] = await areasOf(sliceSource(source, offset, length), volume.filesystem);
  const ofFiles = entries
    .filter(({ deleted }) => !deleted)
    .flatMap(({ extents }) => extents.filter((extent) => extent.offset !== HOLE));
  return [...areas, ...ofFiles].map((extent) => ({
    offset: offset + extent.offset,
    length: extent.length,
  }));
}

/** A volume by each of its directories; what they list of the same bytes is read once. */
async function examineViews(
  examination: Examination,
  found: FoundVolume,
): Promise<ExaminedVolume[]> {
  const { entries, others } = directoriesOf(found.volume);
  const once = new ReadOnce<Digested>(examination.budget);
  const views: Placed[] = [
    { ...found, volume: { ...found.volume, entries }, inside: null },
    ...others.map((view) => ({
      ...found,
      view: view.name,
      volume: { ...found.volume, label: view.label, entries: view.entries, problems: [] },
      reasons: [],
      inside: null,
    })),
  ];
  const examined = [];
  for (const view of views) examined.push(await examineVolume(examination, view, once));
  return examined;
}

/** Volumes of images that are kept as files on a volume. */
async function examineInside(
  examination: Examination,
  { partition, offset, length }: FoundVolume,
  entries: readonly VolumeEntry[],
): Promise<ExaminedVolume[]> {
  const examined = [];
  const within = sliceSource(examination.source, offset, length);
  for await (const found of volumesInside(within, { entries }))
    examined.push(
      await examineVolume(examination, {
        volume: found.volume,
        partition,
        offset,
        length,
        reasons: found.reasons,
        inside: found.partition === null ? found.inside : `${found.inside}/${found.partition}`,
      }),
    );
  return examined;
}

const volumeRow = (volume: Placed['volume'], leftOut: readonly Problem[]) => ({
  filesystem: volume.filesystem,
  label: volume.label && sanitizeText(volume.label),
  totalBytes: volume.totalBytes,
  freeBytes: volume.freeBytes,
  fileCount: volume.entries.filter(isFile).length,
  problems: storableProblems([...volume.problems, ...leftOut]),
});

async function examineVolume(
  examination: Examination,
  { volume, view, partition, offset, length, reasons, inside }: Placed,
  once = new ReadOnce<Digested>(examination.budget),
): Promise<ExaminedVolume> {
  const placed = { partition, inside, view, offset, length, reasons };
  const { inDoubt, budget, keepText } = examination;
  const refusedBefore = budget.refused;
  const ended = new EndedEarly();
  const rows: ExaminedVolume['files'] = [];
  for (const [position, entry] of volume.entries.entries()) {
    const { doubts, recorded } = doubtsOfFile(entry, offset, inDoubt.ranges);
    const { sha256, endsEarly } = await lookedInto(volume, entry, once, keepText);
    if (endsEarly) ended.add(entry);
    rows.push({
      position,
      sha256,
      ...entry,
      damaged: entry.damaged || endsEarly,
      recordedName: sanitizeText(entry.recordedName),
      link: entry.link === undefined ? null : sanitizeText(entry.link),
      sectorsInDoubt: sectorsIn({ ...inDoubt, ranges: recorded }),
      doubts,
    });
  }
  const leftOut = [...ended.problems(), ...leftOutProblems(budget.refused - refusedBefore)];
  return { row: { ...volumeRow(volume, leftOut), ...placed }, files: rows };
}

/** The digest of a whole file, whose words are kept on the way; null of all else. */
async function lookedInto(
  volume: Volume,
  entry: VolumeEntry,
  once: Once,
  keepText: KeepText,
): Promise<{ sha256: string | null; endsEarly: boolean }> {
  if (entry.kind !== 'file' || !isWhole(entry)) return { sha256: null, endsEarly: false };
  const read = await once.of(entry, async () => ({
    sha256: await digestOfFile(volume, entry, keepText),
  }));
  return { sha256: read?.sha256 ?? null, endsEarly: read !== null && read.sha256 === null };
}

/** Null where its bytes end before its size. */
async function digestOfFile(
  volume: Volume,
  entry: VolumeEntry,
  keepText: KeepText,
): Promise<string | null> {
  if (entry.bytes > TEXT_LIMIT) return digestOf(volume.stream(entry), entry.bytes);
  const bytes = await volume.read(entry);
  if (bytes.length < entry.bytes) return null;
  const sha256 = toHex(nodeDigester.sha256(bytes));
  // What the search finds a file by: its text, or a program's listing.
  const body = transcriptOf(bytes, volume.filesystem, entry.type);
  if (body) await keepText(sha256, sanitizeText(body));
  return sha256;
}

async function digestOf(parts: AsyncIterable<Uint8Array>, bytes: number): Promise<string | null> {
  const counted = new Counted(parts);
  const sha256 = await (bytes >= THREADED_FROM ? digestOfStream(counted) : hashOf(counted));
  return counted.bytes < bytes ? null : sha256;
}

async function hashOf(parts: AsyncIterable<Uint8Array>): Promise<string> {
  const hash = nodeDigester.sha256Stream();
  for await (const part of parts) hash.update(part);
  return toHex(hash.digest());
}

/** Parts as they come, and how many bytes they were. */
class Counted implements AsyncIterable<Uint8Array> {
  bytes = 0;

  constructor(private readonly parts: AsyncIterable<Uint8Array>) {}

  async *[Symbol.asyncIterator]() {
    for await (const part of this.parts) {
      this.bytes += part.length;
      yield part;
    }
  }
}
