/**
 * The fair copy: settled from every reading of a medium, with its image, sidecar, volumes and
 * files.
 */
import { eq } from 'drizzle-orm';
import { memorySource, readAll } from '@/core/bits/byte-source';
import { findingOf } from '@/core/block/verdict';
import { imageCandidates, kindsOf } from '@/core/image/kinds';
import { digestsOfImage } from '@/core/image/track-digests';
import { bytesOf, type Layout } from '@/core/layout/layout';
import type { Problem } from '@/core/problems';
import { emptyTally, type Tally } from '@/core/reading/grades';
import { nodeDigester } from '@/node/digester';
import { storeBlob } from '@/server/platform/blobs/blob-store';
import { blobSource } from '@/server/platform/blobs/read-blob';
import type { Executor } from '@/server/platform/db/database';
import { fairCopies, trackDigests } from './tables';
import { media } from '../media/tables';
import type { BlocksKept } from '@/server/states';
import { announce } from '@/server/platform/events';
import { allLayouts } from '../layouts/layouts';
import { note } from '../ledger/ledger';
import { scanCopy } from '../signatures/signatures';
import type { Settled } from './settle-readings';
import { storeVolumes } from './store-volumes';
import { storableProblems } from './storable-problems';

/** Images up to this may follow a layout of a disk. */
const LARGEST_LAYOUT = 8 << 20;

export interface StoredImage {
  blobId: string;
  size: number;
  sha256: string;
}

export interface NewFairCopy {
  operatorId: number;
  mediumId: number;
  source: 'sitting' | 'upload' | 'assembly';
  sourceName?: string;
  /** Its bytes, or a sealed blob that holds them. */
  image: Uint8Array | StoredImage;
  settled: Settled | null;
  /** Where it is known whatever the image is like: of an image that was put together. */
  layout?: string | null;
  /** Byte ranges that no sound reading supplied, of an image that was put together from another. */
  inDoubt?: Settled['inDoubt'];
  /** Of a device that was read block by block. */
  fromBlocks?: { kept: BlocksKept; sidecar: string; inDoubt: Settled['inDoubt'] };
  captureBlob: string | null;
  /** Where no file is found on it, say what it is instead: of hard disks that came as files. */
  analyseTrack?: boolean;
  problems: Problem[];
  sittingId?: number;
  stationId?: number;
  /** What made it necessary, where that is neither a sitting nor an upload. */
  why?: string;
}

/** Stores a fair copy with all that hangs on it, in the caller's transaction. */
export async function storeFairCopy(tx: Executor, copy: NewFairCopy): Promise<number> {
  const { settled, fromBlocks, mediumId } = copy;
  const image =
    copy.image instanceof Uint8Array
      ? await storeBlob(tx, copy.image).then(({ id, size, sha256 }): StoredImage => ({
          blobId: id,
          size,
          sha256: sha256!,
        }))
      : copy.image;
  const source =
    copy.image instanceof Uint8Array
      ? memorySource(copy.image)
      : await blobSource(tx, image.blobId);
  const sidecar = settled?.sidecar ?? fromBlocks?.sidecar;
  const sidecarBlob = sidecar ? await storeBlob(tx, new TextEncoder().encode(sidecar)) : null;
  const layouts = await allLayouts(tx);
  const bytes =
    copy.image instanceof Uint8Array
      ? copy.image
      : image.size <= LARGEST_LAYOUT
        ? await readAll(source, LARGEST_LAYOUT)
        : null;
  const layout =
    copy.layout !== undefined
      ? copy.layout
      : settled
        ? settled.layout.id
        : bytes && !fromBlocks
          ? layoutOfImage(layouts, bytes)
          : null;
  const inDoubt = settled?.inDoubt ?? fromBlocks?.inDoubt ?? copy.inDoubt ?? [];
  const [row] = await tx
    .insert(fairCopies)
    .values({
      mediumId,
      source: copy.source,
      sourceName: copy.sourceName,
      layout,
      proposal: settled && !settled.decoded.layout ? settled.layout : null,
      strange: settled?.decoded.strange,
      matches: settled?.decoded.matches
        .slice(0, 4)
        .map(({ layout, confidence, evidence }) => ({ id: layout.id, confidence, evidence })),
      imageBlob: image.blobId,
      sidecarBlob: sidecarBlob?.id,
      blocks: fromBlocks?.kept,
      captureBlob: copy.captureBlob,
      imageSha256: image.sha256,
      imageBytes: image.size,
      tally: settled?.tally ?? (fromBlocks && tallyOfBlocks(fromBlocks.kept)),
      problems: storableProblems(copy.problems),
      surface: settled?.surface,
      madeBy: copy.operatorId,
    })
    .returning({ id: fairCopies.id });
  const { problems, inUse, files: fileCount } = await storeVolumes(tx, row!.id, source, inDoubt);
  const rule = settled?.layout ?? layouts.find(({ id }) => id === layout);
  const digests = rule && bytes ? digestsOfImage(rule, bytes, inDoubt, nodeDigester) : [];
  if (digests.length > 0)
    await tx.insert(trackDigests).values(digests.map((each) => ({ fairCopyId: row!.id, ...each })));
  if (problems.length > 0)
    await tx
      .update(fairCopies)
      .set({ problems: storableProblems([...copy.problems, ...problems]) })
      .where(eq(fairCopies.id, row!.id));
  // What looks empty is looked at closely, where it was a device.
  if ((fromBlocks || copy.analyseTrack) && fileCount === 0)
    await tx
      .update(fairCopies)
      .set({ finding: await findingOf(source, { inUse, files: fileCount, unread: inDoubt }) })
      .where(eq(fairCopies.id, row!.id));
  await scanCopy(tx, row!.id, source, { operatorId: copy.operatorId, mediumId });
  const [medium] = await tx.select().from(media).where(eq(media.id, mediumId));
  const twins = await tx
    .selectDistinct({ code: media.code })
    .from(fairCopies)
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(eq(fairCopies.imageSha256, image.sha256));
  const others = twins.map(({ code }) => code).filter((code) => code !== medium!.code);
  await note(tx, {
    operatorId: copy.operatorId,
    kind: copy.source === 'upload' ? 'taken-in' : 'fair-copy',
    mediumId,
    sittingId: copy.sittingId,
    stationId: copy.stationId,
    what:
      `${copy.why ?? (copy.source === 'upload' ? `Taken in from ${copy.sourceName}` : 'Fair copy settled')}: ` +
      `${image.size.toLocaleString('en')} bytes, SHA-256 ` +
      `${image.sha256.slice(0, 12)}${others.length > 0 ? `; the same image is held as ${others.join(', ')}` : ''}.`,
  });
  await announce(tx, { kind: 'media' });
  return row!.id;
}

const tallyOfBlocks = ({ extents, blocks }: BlocksKept): Tally => {
  const tally = emptyTally();
  for (const [from, to, grade] of extents) tally[grade] += to - from;
  tally.unread += blocks - extents.reduce((sum, [from, to]) => sum + to - from, 0);
  return tally;
};

/**
 * A flat image's layout, where its size and content leave no doubt, and its sectors lie in the
 * layout's own order.
 */
function layoutOfImage(layouts: readonly Layout[], image: Uint8Array): string | null {
  const fitting = layouts.filter((layout) => bytesOf(layout) === image.length);
  const candidates = imageCandidates(image);
  const [first] = candidates;
  if (
    fitting.length !== 1 ||
    (first?.layout &&
      (candidates.length > 1 || first.kind !== kindsOf(first.layout)[0] || first.status))
  )
    return null;
  return fitting[0]!.id;
}
