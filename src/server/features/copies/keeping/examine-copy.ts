/**
 * An image examined before it is kept: its layout, volumes, files, digests of its tracks, what it
 * is where nothing is on it, and what signatures are in it. It takes as long as it takes, so it is
 * done outside of every transaction; what comes of it is stored in one (`fair-copies.ts`).
 */
import { memorySource, readAll, type ByteSource } from '@/core/bits/byte-source';
import { findingOf, type DeviceFinding } from '@/core/block/verdict';
import { imageCandidates, kindsOf } from '@/core/image/kinds';
import { digestsOfImage, type TrackDigest } from '@/core/image/track-digests';
import { bytesOf, type Layout } from '@/core/layout/layout';
import { isOnlySound } from '@/core/optical/disc-tracks';
import type { Problem } from '@/core/problems';
import type { CaptureDecode } from '@/core/reading/decode/decode-capture';
import type { Tally } from '@/core/reading/grades';
import type { SectorMark } from '@/core/reading/sector-mark';
import type { Extent } from '@/core/volume/volume';
import { nodeDigester } from '@/node/digester';
import { blobSource } from '@/server/platform/blobs/read-blob';
import type { StoredImage } from '@/server/platform/blobs/store-source';
import type { Database } from '@/server/platform/db/database';
import type { BlocksKept } from '@/server/states';
import { allLayouts } from '@/server/features/layouts/layouts';
import { scanSource, type Scan } from '@/server/features/signatures/signatures';
import { NO_DOUBTS, type Doubts } from '@/core/block/image-doubts';
import { examineVolumes, type ExaminedVolume, type ExaminedVolumes } from './examine-volumes';
import type { Settled } from '../settling/settle-readings';
import { TextsToKeep } from './store-volumes';

/** Images up to this may follow a layout of a disk. */
const LARGEST_LAYOUT = 8 << 20;

/** How an image came out that was read in another house, as the record beside it says. */
export interface RecordedCopy {
  /** What the image follows; worked out from its capture where it is proposed. */
  layout: Layout | null;
  isProposed: boolean;
  sidecar: string | null;
  tally: Tally | null;
  strange: CaptureDecode['strange'];
  surface: SurfaceTrack[] | null;
}

/** Marks of a track's sectors. */
interface SurfaceTrack {
  cylinder: number;
  head: number;
  tries?: number;
  sectors: SectorMark[];
}

export interface CopyToExamine {
  /** Its bytes, or a sealed blob that holds them. */
  image: Uint8Array | StoredImage;
  settled: Settled | null;
  recorded?: RecordedCopy;
  /** Where it is known whatever the image is like: of an image that was put together. */
  layout?: string | null;
  /** What no sound reading supplied, of an image that was put together from another. */
  inDoubt?: Doubts;
  /** Of a device that was read block by block. */
  fromBlocks?: { kept: BlocksKept; sidecar: string; inDoubt: Doubts };
  /** Where no file is found on it, say what it is instead: of hard disks that came as files. */
  analyseTrack?: boolean;
}

/** What of its image no sound reading supplied. */
export const doubtsGiven = ({ settled, fromBlocks, inDoubt }: CopyToExamine): Doubts =>
  settled?.inDoubt ?? fromBlocks?.inDoubt ?? inDoubt ?? NO_DOUBTS;

export interface ExaminedCopy {
  layout: string | null;
  volumes: ExaminedVolume[];
  problems: Problem[];
  trackDigests: TrackDigest[];
  finding: DeviceFinding | null;
  scan: Scan;
}

const NO_VOLUMES: ExaminedVolumes = { volumes: [], problems: [], inUse: [], fileCount: 0 };

/** Reads all of an image once or twice; keeps nothing but the words of its files. */
export async function examineCopy(db: Database, copy: CopyToExamine): Promise<ExaminedCopy> {
  const { image, settled } = copy;
  const source =
    image instanceof Uint8Array ? memorySource(image) : await blobSource(db, image.blobId);
  const inDoubt = doubtsGiven(copy);
  const layouts = await allLayouts(db);
  const bytes = source.size <= LARGEST_LAYOUT ? await readAll(source, LARGEST_LAYOUT) : null;
  const layout = layoutOfCopy(copy, layouts, bytes);
  const rule = settled?.layout ?? copy.recorded?.layout ?? layouts.find(({ id }) => id === layout);
  const texts = new TextsToKeep(db);
  // Nothing is looked for in sound: what happened to look like a volume would be none.
  const holdsFiles = !isOnlySound(copy.fromBlocks?.kept.tracks ?? []);
  const found = holdsFiles ? await examineVolumes(source, inDoubt, texts.keep) : NO_VOLUMES;
  await texts.flush();
  return {
    layout,
    volumes: found.volumes,
    problems: found.problems,
    trackDigests: rule && bytes ? digestsOfImage(rule, bytes, inDoubt.ranges, nodeDigester) : [],
    finding: holdsFiles ? await findingWhereEmpty(copy, source, found, inDoubt.ranges) : null,
    scan: await scanSource(db, source),
  };
}

/** What looks empty is looked at closely, where it was a device. */
async function findingWhereEmpty(
  { fromBlocks, analyseTrack }: CopyToExamine,
  source: ByteSource,
  { inUse, fileCount }: ExaminedVolumes,
  unread: readonly Extent[],
): Promise<DeviceFinding | null> {
  if ((!fromBlocks && !analyseTrack) || fileCount > 0) return null;
  return findingOf(source, { inUse, files: fileCount, unread });
}

function layoutOfCopy(
  { layout, settled, recorded, fromBlocks }: CopyToExamine,
  layouts: readonly Layout[],
  bytes: Uint8Array | null,
): string | null {
  if (layout !== undefined) return layout;
  if (settled) return settled.layout.id;
  if (recorded) return recorded.layout?.id ?? null;
  return bytes && !fromBlocks ? layoutOfImage(layouts, bytes) : null;
}

/**
 * A flat image's layout, where its size and content leave no doubt, and its sectors lie in the
 * layout's own order.
 */
function layoutOfImage(layouts: readonly Layout[], image: Uint8Array): string | null {
  const fitting = layouts.filter((layout) => bytesOf(layout) === image.length);
  const candidates = imageCandidates(image);
  const [first] = candidates;
  // Blocks in order are the sectors of no layout, whatever layout has as many bytes.
  if (first?.kind === 'po' && first.layout === null) return null;
  if (
    fitting.length !== 1 ||
    (first?.layout &&
      (candidates.length > 1 || first.kind !== kindsOf(first.layout)[0] || first.status))
  )
    return null;
  return fitting[0]!.id;
}
