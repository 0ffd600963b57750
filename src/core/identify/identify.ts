/**
 * What volumes does an image hold? Decided by content, with ranked evidence; a name or extension
 * never counts.
 */
import { sliceSource, type ByteSource } from '../bits/byte-source';
import type { Problem } from '../problems';
import { VOLUME_FAMILIES } from '../volume/families';
import type { KnownOfImage, VolumeCandidate, VolumeFamily } from '../volume/family';
import { lostPartitions, readPartitions, type Partition } from '../volume/partitioned/partitions';
import { SIXTEEN_SECTOR_BYTES, otherOrder, turnedVolume } from '../volume/sixteen-sector-order';
import type { FoundVolume } from './found-volume';
import { sessionsBehind } from './sessions';
import { signatureOf } from './signatures';
import { said } from '@/core/said';

export interface Identification {
  volumes: FoundVolume[];
  problems: Problem[];
  /** Where the image is parted. */
  partitions: Partition[];
}

/** What is said of a volume of 16 sectors a track that stands in the other of its two orders. */
export const IN_OTHER_ORDER = said('identify.itsSectorsStandIn');

/** Where both orders are as likely, the image is taken as it stands. */
const OTHER_ORDER_COSTS = 0.02;

/** The same image seen in the other of the two orders of sixteen sectors. */
async function inOtherOrder(
  family: VolumeFamily,
  source: ByteSource,
  known: KnownOfImage,
): Promise<VolumeCandidate | null> {
  const found = await family.probe(otherOrder(source), known);
  return (
    found && {
      ...found,
      confidence: found.confidence - OTHER_ORDER_COSTS,
      reasons: [...found.reasons, IN_OTHER_ORDER],
      open: async () => turnedVolume(await found.open(), source),
    }
  );
}

/** Everything that the start of the source may be, the likeliest first. */
export async function candidatesOf(
  source: ByteSource,
  known: KnownOfImage = {},
): Promise<VolumeCandidate[]> {
  const found: (VolumeCandidate | null)[] = [];
  const hasTwoOrders = source.size === SIXTEEN_SECTOR_BYTES;
  for (const family of VOLUME_FAMILIES) {
    found.push(await family.probe(source, known));
    if (family.isInTwoOrders && hasTwoOrders) found.push(await inOtherOrder(family, source, known));
  }
  return found
    .filter((each) => each !== null)
    .map((each) => ({ ...each, confidence: Math.min(1, each.confidence) }))
    .sort((a, b) => b.confidence - a.confidence);
}

/** Below this nothing is opened. */
const ENOUGH = 0.5;

async function openBest(
  source: ByteSource,
  options: KnownOfImage,
  partition: number | null,
  offset: number,
): Promise<FoundVolume | null> {
  const [best] = await candidatesOf(source, options);
  if (!best || best.confidence < ENOUGH) return null;
  const { confidence, reasons, length } = best;
  return { volume: await best.open(), partition, offset, length, confidence, reasons };
}

async function openPartitions(
  source: ByteSource,
  partitions: readonly Partition[],
): Promise<{ volumes: FoundVolume[]; problems: Problem[] }> {
  const volumes: FoundVolume[] = [];
  const problems: Problem[] = [];
  for (const { number, type, offset, length } of partitions) {
    const found = await openBest(sliceSource(source, offset, length), {}, number, offset);
    if (found) {
      volumes.push(found);
      continue;
    }
    const marked = await signatureOf(sliceSource(source, offset, length));
    const typeWords = type.toString(16).toUpperCase().padStart(2, '0');
    problems.push({
      kind: 'unknown-format',
      offset,
      said: marked
        ? said('identify.inPartition', { number, what: marked.said })
        : said('identify.partitionTypeHHolds', { number, type: typeWords }),
    });
  }
  return { volumes, problems };
}

/** The partitions of a disk; where it has no table and no volume, those that begin somewhere. */
const tableOf = async (source: ByteSource, isSearched: boolean) =>
  (await readPartitions(source)) ?? (isSearched ? lostPartitions(source) : null);

/** Opens every volume of the image. An image that holds none is a finding, not a failure. */
export async function identifyVolumes(
  source: ByteSource,
  options: KnownOfImage = {},
): Promise<Identification> {
  const whole = await openBest(source, options, null, 0);
  const isKnown = whole !== null && (whole.confidence >= 0.8 || options.cpm !== undefined);
  const table = isKnown ? null : await tableOf(source, whole === null && !options.isInside);
  if (table && table.partitions.length > 0) {
    const { volumes, problems } = await openPartitions(source, table.partitions);
    if (volumes.length > 0 || !whole)
      return {
        volumes,
        problems: [...table.problems, ...problems],
        partitions: table.partitions,
      };
  }
  if (whole) return { ...(await withSessions(source, whole, options)), partitions: [] };
  const unknown = await notRead(source, options);
  return { volumes: [], problems: [...(table?.problems ?? []), unknown], partitions: [] };
}

/** A disc has a volume a session; every other image has one. */
async function withSessions(
  source: ByteSource,
  whole: FoundVolume,
  { isInside, isDevice }: KnownOfImage,
): Promise<Omit<Identification, 'partitions'>> {
  const isDisc = whole.volume.filesystem === 'iso9660' && !isInside && !isDevice;
  return isDisc ? sessionsBehind(source, whole) : { volumes: [whole], problems: [] };
}

/** What is said of an image that holds nothing that is read here. */
async function notRead(source: ByteSource, { isInside }: KnownOfImage): Promise<Problem> {
  const marked = isInside ? null : await signatureOf(source);
  const unknown = marked?.said ?? said('identify.theImageMayBe', { source: source.size });
  return { kind: 'unknown-format', said: unknown, offset: 0 };
}
