/**
 * The fair copy of a block device: every reading of it put together, settled into an image with its
 * sidecar.
 */
import { and, asc, eq, isNotNull } from 'drizzle-orm';
import type { ByteSource } from '@/core/bits/byte-source';
import { isRawDisc, type BlockMedium } from '@/core/block/device';
import { discTracks } from '@/core/block/disc-tracks';
import { extentsFile } from '@/core/block/extents-file';
import { ExtentMap, unsoundRuns } from '@/core/block/extent-map';
import { mergeCopies, mergedSource, type MergedCopies } from '@/core/block/merge-copies';
import { userSource } from '@/core/optical/disc';
import { USER_SECTOR_BYTES } from '@/core/optical/raw-sector';
import type { Problem } from '@/core/problems';
import { appendBlob, createBlob, sealBlob } from '@/server/platform/blobs/blob-store';
import { blobOf } from '@/server/platform/blobs/blob-chunks';
import { blobSource } from '@/server/platform/blobs/read-blob';
import type { Executor } from '@/server/platform/db/database';
import { media } from '../media/tables';
import { sittings } from '../sittings/tables';
import { extentsOf, packed } from '../sittings/block-sittings';
import { storeFairCopy, type StoredImage } from './fair-copies';
import { ThreadedHash } from '@/server/platform/threads/threaded-hash';

const PIECE = 4 << 20;

/** Stores all of a source as a sealed blob, piece by piece. */
export async function storeSource(tx: Executor, source: ByteSource): Promise<StoredImage> {
  const id = await createBlob(tx);
  const hash = new ThreadedHash();
  try {
    for (let at = 0; at < source.size; at += PIECE) {
      const piece = await source.read(at, PIECE);
      await Promise.all([hash.update(piece), appendBlob(tx, id, piece)]);
    }
    const { id: blobId, size, sha256 } = await sealBlob(tx, id, await hash.digest());
    return { blobId, size, sha256: sha256! };
  } finally {
    hash.drop();
  }
}

const stored = async (tx: Executor, blob: string): Promise<StoredImage> => {
  const before = await blobOf(tx, blob);
  const { id, size, sha256 } = before.sha256 ? before : await sealBlob(tx, blob);
  return { blobId: id, size, sha256: sha256! };
};

interface Settling {
  medium: typeof media.$inferSelect;
  drive: string;
  sittingId: number;
  stationId: number;
  operatorId: number;
}

/** Puts every reading of a medium together and stores the copy, in the caller's transaction. */
export async function settleBlocks(
  tx: Executor,
  { medium, drive, sittingId, stationId, operatorId }: Settling,
): Promise<void> {
  const rows = await tx
    .select()
    .from(sittings)
    .where(
      and(
        eq(sittings.mediumId, medium.id),
        isNotNull(sittings.device),
        isNotNull(sittings.captureBlob),
      ),
    )
    .orderBy(asc(sittings.id));
  const own = rows.find(({ id }) => id === sittingId)!;
  const device = own.device!;
  // The newest last in the list, first in what is taken: of two that are as good, the one that was
  // read now.
  const same = [
    own,
    ...rows.filter(
      ({ id, device: other }) =>
        id !== sittingId &&
        other!.blockBytes === device.blockBytes &&
        other!.blocks === device.blocks,
    ),
  ];
  const copies = [];
  for (const { id, captureBlob } of same)
    copies.push({
      source: await blobSource(tx, captureBlob!),
      map: new ExtentMap(device.blocks, await extentsOf(tx, id)),
    });
  const alone =
    copies.length === 1 ||
    !copies.slice(1).some(({ map }) => map.tally().firm + map.tally().mended > 0);
  const together: MergedCopies | null = alone ? null : await mergeCopies(copies, device.blockBytes);
  const merged = together?.another ? null : together;
  const map = merged?.map ?? copies[0]!.map;
  const capture = merged
    ? await storeSource(tx, mergedSource(copies, merged, device.blockBytes))
    : await stored(tx, own.captureBlob!);
  for (const { captureBlob } of same) await stored(tx, captureBlob!);
  const image = await imageOf(tx, device, capture, map);
  const readings = merged ? copies.length : 1;
  const problems: Problem[] = together?.another
    ? [
        {
          kind: 'readings-differ',
          offset: null,
          message:
            'What was read before of this medium has next to nothing in common with this ' +
            'reading: is it the same one? Only this reading was taken.',
        },
      ]
    : (merged?.differing ?? []).slice(0, 50).map(({ from, to }) => ({
        kind: 'readings-differ',
        offset: from * device.blockBytes,
        message: `Blocks ${from} to ${to - 1} are sound in two readings, and not the same.`,
      }));
  const description = {
    code: medium.code,
    title: medium.title,
    label: medium.labelText,
    lender: medium.lender,
    drive,
    ...(medium.origin && {
      machine: medium.origin.machine,
      jumpers: medium.origin.jumpers,
      notes: medium.origin.notes,
    }),
  };
  const sidecar = extentsFile(map, {
    sha256: capture.sha256,
    blockBytes: device.blockBytes,
    device,
    readings,
    differing: merged?.differing,
    problems,
    description,
  });
  await storeFairCopy(tx, {
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
      kept: {
        blockBytes: device.blockBytes,
        blocks: device.blocks,
        extents: packed([...map.extents()]),
        medium: device,
        tracks: isRawDisc(device) ? discTracks(device) : [],
        readings,
        differing: merged?.differing ?? [],
      },
      sidecar: `${JSON.stringify(sidecar, null, 1)}\n`,
      inDoubt: image.inDoubt,
    },
  });
}

/**
 * What is looked into: the device itself, or of a raw disc the user bytes of its first track of
 * data.
 */
async function imageOf(
  tx: Executor,
  device: BlockMedium,
  capture: StoredImage,
  map: ExtentMap,
): Promise<{ stored: StoredImage; inDoubt: { offset: number; length: number }[] }> {
  const track = isRawDisc(device)
    ? discTracks(device).find(({ type }) => type !== 'AUDIO')
    : undefined;
  if (!track)
    return {
      stored: capture,
      inDoubt: unsoundRuns(map).map(({ from, to }) => ({
        offset: from * device.blockBytes,
        length: (to - from) * device.blockBytes,
      })),
    };
  const source = userSource(await blobSource(tx, capture.blobId), track, false);
  return {
    stored: await storeSource(tx, source),
    inDoubt: unsoundRuns(map, track.startLba, track.startLba + track.sectors).map(
      ({ from, to }) => ({
        offset: (from - track.startLba) * USER_SECTOR_BYTES,
        length: (to - from) * USER_SECTOR_BYTES,
      }),
    ),
  };
}
