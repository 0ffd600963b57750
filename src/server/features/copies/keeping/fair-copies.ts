/**
 * The fair copy: settled from every reading of a medium, with its image, sidecar, volumes and
 * files. What is in it was examined before; here it is only stored.
 */
import { eq } from 'drizzle-orm';
import type { Problem } from '@/core/problems';
import { isSoundName } from '@/core/sound/sound-file';
import { holdsSounds } from '@/core/sound/sounding';
import { emptyTally, type Tally } from '@/core/reading/grades';
import { storeBlob } from '@/server/platform/blobs/blob-store';
import type { StoredImage } from '@/server/platform/blobs/store-source';
import type { Executor } from '@/server/platform/db/database';
import { announce } from '@/server/platform/events';
import { enqueue } from '@/server/platform/jobs/enqueue';
import type { BlocksKept } from '@/server/states';
import { note } from '@/server/features/ledger/ledger';
import { media } from '@/server/features/media/tables';
import { keepFindings } from '@/server/features/signatures/signatures';
import { doubtsGiven, type CopyToExamine, type ExaminedCopy } from './examine-copy';
import type { ExaminedVolume } from './examine-volumes';
import { storableProblems } from './storable-problems';
import { storeVolumes } from './store-volumes';
import { fairCopies, trackDigests } from '../tables';
import { PROGRAM_VERSION } from '@/server/platform/version';
import { said, type Said } from '@/core/said';

/** Matches of layouts that are kept with a copy: the best ones. */
const MATCHES_KEPT = 4;

export interface NewFairCopy extends CopyToExamine {
  operatorId: number;
  mediumId: number;
  source: 'sitting' | 'upload' | 'assembly';
  sourceName?: string;
  captureBlob: string | null;
  problems: Problem[];
  sittingId?: number;
  stationId?: number;
  /** What made it necessary, where that is neither a sitting nor an upload. */
  why?: Said;
}

/** Stores a fair copy with all that was found in it, in the caller's transaction. */
export async function storeFairCopy(
  tx: Executor,
  copy: NewFairCopy,
  examined: ExaminedCopy,
): Promise<number> {
  const image = copy.image instanceof Uint8Array ? await storedAtOnce(tx, copy.image) : copy.image;
  const id = await insertCopy(tx, copy, examined, image);
  await storeVolumes(tx, id, examined.volumes);
  if (examined.trackDigests.length > 0)
    await tx
      .insert(trackDigests)
      .values(examined.trackDigests.map((each) => ({ fairCopyId: id, ...each })));
  await keepFindings(tx, id, examined.scan, copy);
  await noteCopy(tx, copy, image);
  await enqueue(tx, 'alike', { mediumId: copy.mediumId });
  if (examined.volumes.some(mayHoldSounds)) await enqueue(tx, 'sounds', { fairCopyId: id });
  await announce(tx, { kind: 'media' });
  return id;
}

const mayHoldSounds = ({ row, files }: ExaminedVolume): boolean =>
  holdsSounds(row.filesystem) || files.some(({ path }) => isSoundName(path));

async function storedAtOnce(tx: Executor, bytes: Uint8Array): Promise<StoredImage> {
  const { id, size, sha256 } = await storeBlob(tx, bytes);
  return { blobId: id, size, sha256: sha256! };
}

/** Of what was settled here, of blocks, and of what came with its record. */
function howItCameOut({ settled, recorded, fromBlocks }: NewFairCopy) {
  if (settled)
    return {
      ...{ sidecar: settled.sidecar, tally: settled.tally, surface: settled.surface },
      proposal: settled.decoded.layout ? null : settled.layout,
      strange: settled.decoded.strange,
      matches: settled.decoded.matches
        .slice(0, MATCHES_KEPT)
        .map(({ layout, confidence, evidence }) => ({ id: layout.id, confidence, evidence })),
    };
  if (recorded) {
    const { sidecar, tally, strange, surface, isProposed, layout } = recorded;
    return { sidecar, tally, strange, surface, proposal: isProposed ? layout : null };
  }
  return fromBlocks && { sidecar: fromBlocks.sidecar, tally: tallyOfBlocks(fromBlocks.kept) };
}

async function insertCopy(
  tx: Executor,
  copy: NewFairCopy,
  examined: ExaminedCopy,
  image: StoredImage,
): Promise<number> {
  const { sidecar, ...cameOut } = howItCameOut(copy) ?? { sidecar: null };
  const sidecarBlob = sidecar ? await storeBlob(tx, new TextEncoder().encode(sidecar)) : null;
  const [row] = await tx
    .insert(fairCopies)
    .values({
      mediumId: copy.mediumId,
      source: copy.source,
      sourceName: copy.sourceName,
      layout: examined.layout,
      ...cameOut,
      imageBlob: image.blobId,
      sidecarBlob: sidecarBlob?.id,
      blocks: copy.fromBlocks?.kept,
      captureBlob: copy.captureBlob,
      imageSha256: image.sha256,
      imageBytes: image.size,
      problems: storableProblems([...copy.problems, ...examined.problems]),
      inDoubt: doubtsGiven(copy),
      finding: examined.finding,
      madeBy: copy.operatorId,
      program: PROGRAM_VERSION,
    })
    .returning({ id: fairCopies.id });
  return row!.id;
}

/** The ledger says what was kept, and who holds the same image. */
async function noteCopy(
  tx: Executor,
  { operatorId, mediumId, source, sourceName, sittingId, stationId, why }: NewFairCopy,
  { sha256, size }: StoredImage,
): Promise<void> {
  const twins = await tx
    .selectDistinct({ id: media.id, code: media.code })
    .from(fairCopies)
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(eq(fairCopies.imageSha256, sha256));
  const others = twins.filter(({ id }) => id !== mediumId).map(({ code }) => code);
  const made =
    why ??
    (source === 'upload'
      ? said('copies.takenInFrom', { sourceName })
      : said('copies.fairCopySettled'));
  await note(tx, {
    operatorId,
    kind: source === 'upload' ? 'taken-in' : 'fair-copy',
    mediumId,
    sittingId,
    stationId,
    what: said('copies.bytesSha256', { made, size, sha256: sha256.slice(0, 12), others }),
  });
}

const tallyOfBlocks = ({ extents, blocks }: BlocksKept): Tally => {
  const tally = emptyTally();
  for (const [from, to, grade] of extents) tally[grade] += to - from;
  tally.unread += blocks - extents.reduce((sum, [from, to]) => sum + to - from, 0);
  return tally;
};
