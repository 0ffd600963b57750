/** What of a kept image no sound reading supplied, wherever the image came from. */
import { and, eq, isNull } from 'drizzle-orm';
import { doubtsOfBlocks, NO_DOUBTS, type Doubts } from '@/core/block/image-doubts';
import { ExtentMap } from '@/core/block/extent-map';
import type { Sidecar } from '@/core/image/sidecar';
import { placesOf } from '@/core/volume/extent-source';
import { readBlob } from '@/server/platform/blobs/read-blob';
import type { Executor } from '@/server/platform/db/database';
import type { BlocksKept } from '@/server/states';
import { fairCopies, files, volumes } from './tables';

type Copy = Pick<
  typeof fairCopies.$inferSelect,
  'id' | 'source' | 'inDoubt' | 'blocks' | 'sidecarBlob'
>;

/** The map that a copy keeps of its blocks. */
const mapOf = ({ blocks, extents }: Pick<BlocksKept, 'blocks' | 'extents'>): ExtentMap =>
  new ExtentMap(
    blocks,
    extents.map(([from, to, grade, tries, pace]) => ({ from, to, grade, tries, pace, group: 0 })),
  );

export async function doubtsOfCopy(db: Executor, copy: Copy): Promise<Doubts> {
  if (copy.inDoubt) return copy.inDoubt;
  if (copy.blocks)
    return doubtsOfBlocks(mapOf(copy.blocks), copy.blocks.blockBytes, copy.blocks.tracks);
  if (copy.sidecarBlob) return doubtsOfSidecar(await readBlob(db, copy.sidecarBlob));
  return copy.source === 'assembly' ? doubtsOfFiles(db, copy.id) : NO_DOUBTS;
}

function doubtsOfSidecar(bytes: Uint8Array): Doubts {
  const { filledIn } = JSON.parse(new TextDecoder().decode(bytes)) as Pick<Sidecar, 'filledIn'>;
  return {
    ranges: filledIn.map(({ offset, length }) => ({ offset, length })),
    sectorBytes: null,
  };
}

/** Of images that were put together before what is in doubt was kept with them. */
async function doubtsOfFiles(db: Executor, copyId: number): Promise<Doubts> {
  const rows = await db
    .select({ extents: files.extents, doubts: files.doubts, offset: volumes.offset })
    .from(files)
    .innerJoin(volumes, eq(volumes.id, files.volumeId))
    .where(and(eq(volumes.fairCopyId, copyId), isNull(volumes.view)));
  const ranges = rows.flatMap(({ extents, doubts, offset: base }) =>
    doubts
      .flatMap((doubt) => placesOf(extents, doubt))
      .map(({ offset, length }) => ({ offset: base + offset, length })),
  );
  return { ranges: ranges.sort((a, b) => a.offset - b.offset), sectorBytes: null };
}
