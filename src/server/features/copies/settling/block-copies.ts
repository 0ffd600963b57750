/**
 * The fair copy of a block device: every reading of it put together, settled into an image with its
 * sidecar.
 */
import { and, asc, eq, isNotNull } from 'drizzle-orm';
import type { ByteSource } from '@/core/bits/byte-source';
import { discTracks } from '@/core/block/disc-tracks';
import { isRawDisc, type BlockMedium } from '@/core/block/device';
import { ExtentMap } from '@/core/block/extent-map';
import { toldProblem } from '@/messages/tell';
import { extentsFile } from '@/core/block/extents-file';
import { doubtsOfBlocks, type Doubts } from '@/core/block/image-doubts';
import { mergeCopies, mergedSource, type MergedCopies } from '@/core/block/merge-copies';
import { discData } from '@/core/optical/disc-data';
import type { Problem } from '@/core/problems';
import { blobSource } from '@/server/platform/blobs/read-blob';
import { sealStored, storeSource, type StoredImage } from '@/server/platform/blobs/store-source';
import type { Database } from '@/server/platform/db/database';
import { media } from '@/server/features/media/tables';
import { extentsOf, packed } from '@/server/features/sittings/blocks/block-sittings';
import { sittings } from '@/server/features/sittings/tables';
import type { NewFairCopy } from '../keeping/fair-copies';
import { said } from '@/core/said';

/** Stretches named one by one where two readings are sound and differ. */
const DIFFERING_NAMED = 50;

interface Settling {
  medium: typeof media.$inferSelect;
  drive: string;
  sittingId: number;
  stationId: number;
  operatorId: number;
}

/** One reading of a device: where its bytes are, and what is known of each of them. */
interface Reading {
  captureBlob: string;
  source: ByteSource;
  map: ExtentMap;
}

/** What every reading of a device makes together. */
interface Joined {
  map: ExtentMap;
  capture: StoredImage;
  readings: number;
  differing: { from: number; to: number }[];
  problems: Problem[];
}

const keptOf = (
  device: Awaited<ReturnType<typeof deviceOf>>,
  joined: Awaited<ReturnType<typeof joinReadings>>,
) => ({
  blockBytes: device.blockBytes,
  blocks: device.blocks,
  extents: packed([...joined.map.extents()]),
  medium: device,
  tracks: isRawDisc(device) ? discTracks(device) : [],
  readings: joined.readings,
  differing: joined.differing,
});

/**
 * Puts every reading of a medium together; what comes of it is stored beside the sitting, and no
 * transaction is held meanwhile.
 */
export async function settleBlocks(
  db: Database,
  { medium, drive, sittingId, stationId, operatorId }: Settling,
): Promise<NewFairCopy> {
  const device = await deviceOf(db, sittingId);
  const joined = await joinReadings(db, device, await readingsOf(db, medium.id, sittingId, device));
  const image = await imageOf(db, device, joined);
  const { capture, problems } = joined;
  const sidecar = sidecarOf(joined, device, descriptionOf(medium, drive));
  return {
    operatorId,
    mediumId: medium.id,
    source: 'sitting',
    image: image.stored,
    settled: null,
    captureBlob: isRawDisc(device) ? capture.blobId : null,
    problems,
    sittingId,
    stationId,
    fromBlocks: {
      kept: keptOf(device, joined),
      sidecar,
      inDoubt: image.inDoubt,
    },
  };
}

async function deviceOf(db: Database, sittingId: number): Promise<BlockMedium> {
  const [row] = await db
    .select({ device: sittings.device })
    .from(sittings)
    .where(eq(sittings.id, sittingId));
  return row!.device!;
}

/**
 * The readings of a medium that was the same device each time: this sitting's first, which counts
 * where two are as good, the others by their age.
 */
async function readingsOf(
  db: Database,
  mediumId: number,
  sittingId: number,
  { blockBytes, blocks }: BlockMedium,
): Promise<Reading[]> {
  const isReading = and(
    eq(sittings.mediumId, mediumId),
    isNotNull(sittings.device),
    isNotNull(sittings.captureBlob),
  );
  const rows = await db.select().from(sittings).where(isReading).orderBy(asc(sittings.id));
  const own = rows.filter(({ id }) => id === sittingId);
  const others = rows.filter(
    ({ id, device }) =>
      id !== sittingId && device!.blockBytes === blockBytes && device!.blocks === blocks,
  );
  return Promise.all(
    [...own, ...others].map(async ({ id, captureBlob }) => ({
      captureBlob: captureBlob!,
      source: await blobSource(db, captureBlob!),
      map: new ExtentMap(blocks, await extentsOf(db, id)),
    })),
  );
}

async function joinReadings(
  db: Database,
  { blockBytes }: BlockMedium,
  readings: Reading[],
): Promise<Joined> {
  const [own, ...others] = readings;
  const hasOthers = others.some(({ map }) => map.tally().firm + map.tally().mended > 0);
  const together = hasOthers ? await mergeCopies(readings, blockBytes) : null;
  const merged = together?.another ? null : together;
  const capture = merged
    ? await storeSource(db, mergedSource(readings, merged, blockBytes))
    : await sealStored(db, own!.captureBlob);
  for (const { captureBlob } of readings) await sealStored(db, captureBlob);
  return {
    map: merged?.map ?? own!.map,
    capture,
    readings: merged ? readings.length : 1,
    differing: merged?.differing ?? [],
    problems: problemsOf(together, blockBytes),
  };
}

function problemsOf(together: MergedCopies | null, blockBytes: number): Problem[] {
  if (together?.another)
    return [
      {
        kind: 'readings-differ',
        offset: null,
        said: said('copies.whatWasReadBefore'),
      },
    ];
  return (together?.differing ?? []).slice(0, DIFFERING_NAMED).map(({ from, to }) => ({
    kind: 'readings-differ',
    offset: from * blockBytes,
    said: said('copies.blocksToAreSound', { from, to: to - 1 }),
  }));
}

function descriptionOf(
  { code, title, labelText, lender, machine, origin }: Settling['medium'],
  drive: string,
) {
  return {
    code,
    title,
    label: labelText,
    lender,
    drive,
    ...(machine && { machine }),
    ...origin,
  };
}

function sidecarOf(
  { map, capture, readings, differing, problems }: Joined,
  device: BlockMedium,
  description: Record<string, string>,
): string {
  const sidecar = extentsFile(map, {
    sha256: capture.sha256,
    blockBytes: device.blockBytes,
    device,
    readings,
    differing,
    problems: problems.map(toldProblem),
    description,
  });
  return `${JSON.stringify(sidecar, null, 1)}\n`;
}

/**
 * What is looked into: the device itself, or of a raw disc its data.
 */
async function imageOf(
  db: Database,
  device: BlockMedium,
  { capture, map }: Joined,
): Promise<{ stored: StoredImage; inDoubt: Doubts }> {
  const tracks = isRawDisc(device) ? discTracks(device) : [];
  const source = await discData([await blobSource(db, capture.blobId)], tracks);
  const inDoubt = doubtsOfBlocks(map, device.blockBytes, tracks);
  if (!source) return { stored: capture, inDoubt };
  return { stored: await storeSource(db, source), inDoubt };
}
