/**
 * What differs between two kept media of one kind, or between two sittings of one medium, sector by
 * sector.
 */
import { eq } from 'drizzle-orm';
import { readContainer } from '@/core/flux/container-reader';
import { tracksOfImage, type Layout } from '@/core/layout/layout';
import { allSectors, decodeCapture } from '@/core/reading/decode/decode-capture';
import {
  compareSectors,
  tallyDifferences,
  type ComparedSector,
} from '@/core/reading/analysis/compare';
import { nodeDigester } from '@/node/digester';
import { readBlob } from '@/server/platform/blobs/read-blob';
import type { Database } from '@/server/platform/db/database';
import { sittings } from '../sittings/tables';
import { decodeWorkers } from '@/server/platform/threads/decode-workers';
import { UserError, notFound } from '@/server/platform/errors';
import { doubtsOfCopy } from './doubts-of-copy';
import { latestFairCopy } from './queries';
import { allLayouts, layoutOfCopy } from '../layouts/layouts';
import { mediumByCode } from '../media/media';
import { said } from '@/core/said';

/** Differences listed one by one; the tally counts them all. */
const LISTED = 3000;

interface Side {
  name: string;
  layout: Layout;
  sectors: ComparedSector[];
}

/** Sectors of a kept image; what no sound sector filled is doubtful. */
async function ofMedium(db: Database, code: string): Promise<Side> {
  const medium = await mediumByCode(db, code);
  const copy = await latestFairCopy(db, medium.id);
  if (!copy) throw new UserError(said('copies.hasNoFairCopy', { code }), 409);
  const layout = await layoutOfCopy(db, copy);
  if (!layout) throw new UserError(said('copies.noLayoutIsKnown', { code }), 409);
  const [image, { ranges }] = await Promise.all([
    readBlob(db, copy.imageBlob),
    doubtsOfCopy(db, copy),
  ]);
  const isInDoubt = (from: number, to: number) =>
    ranges.some(({ offset, length }) => offset < to && from < offset + length);
  const sectors = tracksOfImage(layout).flatMap(({ cylinder, head, places }) =>
    places.map(({ r, bytes, offset }): ComparedSector => ({
      cylinder,
      head,
      r,
      size: bytes,
      grade: isInDoubt(offset, offset + bytes) ? 'doubtful' : 'firm',
      data: image.subarray(offset, offset + bytes),
    })),
  );
  return { name: code, layout, sectors };
}

/** What a sitting read, or of it the first pass alone. */
async function ofSitting(db: Database, id: number, firstPass: boolean): Promise<Side> {
  const [sitting] = await db.select().from(sittings).where(eq(sittings.id, id));
  if (!sitting?.captureBlob) throw notFound(said('copies.captureOfSitting', { id }));
  const { header, tracks } = readContainer(await readBlob(db, sitting.captureBlob), nodeDigester);
  const decoded = await decodeCapture(
    header,
    firstPass ? tracks.filter(({ pass }) => pass === 1) : tracks,
    { layouts: await allLayouts(db), workers: decodeWorkers() },
  );
  const layout = decoded.layout ?? decoded.proposal;
  if (!layout) throw new UserError(said('copies.noSectorWasFound', { id }), 409);
  return {
    name: firstPass ? `first pass of sitting ${id}` : `sitting ${id}`,
    layout,
    sectors: allSectors({ ...decoded, layout }).map((sector) => ({
      ...sector,
      cylinder: sector.cylinder / decoded.stepping,
    })),
  };
}

function sideOf(db: Database, name: string): Promise<Side> {
  const [, id, first] = /^sitting-(\d{1,9})(-first)?$/.exec(name) ?? [];
  return id ? ofSitting(db, Number(id), first !== undefined) : ofMedium(db, name);
}

/** `a` and `b` are codes of media, `sitting-7`, or `sitting-7-first` for its first pass alone. */
export async function compareKept(db: Database, a: string, b: string) {
  const [first, second] = await Promise.all([sideOf(db, a), sideOf(db, b)]);
  if (first.layout.id !== second.layout.id)
    throw new UserError(
      said('copies.isIsDisksOf', {
        name: first.name,
        id: first.layout.id,
        name2: second.name,
        id2: second.layout.id,
      }),
      409,
    );
  const all = compareSectors(first.sectors, second.sectors);
  const apart = all.filter(({ difference }) => difference !== 'same');
  return {
    first: first.name,
    second: second.name,
    layout: first.layout.id,
    tally: tallyDifferences(all),
    listed: apart.slice(0, LISTED),
    more: Math.max(0, apart.length - LISTED),
  };
}
export type Differences = Awaited<ReturnType<typeof compareKept>>;
