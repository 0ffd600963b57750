/** Sittings of block devices: their extents, how far to read, and what a page needs of one. */
import { asc, eq, sql } from 'drizzle-orm';
import { z } from 'zod';
import type { Extent } from '@/core/block/extent-map';
import { ExtentMap, unreadBlocks } from '@/core/block/extent-map';
import type { Database, Executor } from '@/server/platform/db/database';
import { blockExtents, blockReadings } from '../tables';
import { sittings } from '../tables';
import { UserError } from '@/server/platform/errors';
import { lockSitting, refuseElsewhere } from '../../stations/station-use';
import { readOn } from '../read-on';
import { said } from '@/core/said';

export const BlockRangeInput = z.object({ from: z.int().min(0), to: z.int().min(1) });

export async function extentsOf(db: Executor, sittingId: number): Promise<Extent[]> {
  const { from, to, grade, tries, group, pace } = blockExtents;
  return db
    .select({ from, to, grade, tries, group, pace })
    .from(blockExtents)
    .where(eq(blockExtents.sittingId, sittingId))
    .orderBy(asc(from));
}

/** Answers how far to read. */
export async function answerBlockPreview(
  db: Database,
  operatorId: number,
  id: number,
  { from, to }: z.output<typeof BlockRangeInput>,
): Promise<void> {
  await db.transaction(async (tx) => {
    const sitting = await lockSitting(tx, id);
    const { state, device, blockPolicy } = sitting;
    if (state !== 'asks' || !device || !blockPolicy)
      throw new UserError(said('sittings.thisSittingDoesNot'));
    if (from >= to) throw new UserError(said('sittings.fromAndToLeave'), 422, 'to');
    if (to > device.blocks)
      throw new UserError(
        said('sittings.theDeviceHasBlocks', { blocks: device.blocks, to }),
        422,
        'to',
      );
    await refuseElsewhere(tx, sitting);
    const what = said('sittings.toBeReadBlocks', {
      from,
      to: to - 1,
      to2: (to - from) * device.blockBytes,
    });
    const range = { blockPolicy: { ...blockPolicy, range: { from, to } } };
    await readOn(tx, operatorId, sitting, range, what);
  });
}

/** What a page needs beside what every sitting has; null of one that reads tracks. */
export async function blockViewOf(db: Executor, sitting: typeof sittings.$inferSelect) {
  const { id, device, blockPolicy, blockPreview, healthAfter } = sitting;
  if (!device || !blockPolicy) return null;
  const [extents, [readings]] = await Promise.all([
    extentsOf(db, id),
    db
      .select({
        count: sql<number>`count(*)::int`,
        got: sql<number>`coalesce(sum(got), 0)::float8`,
        first: sql<string | null>`min(at)`,
        last: sql<string | null>`max(at)`,
      })
      .from(blockReadings)
      .where(eq(blockReadings.sittingId, id)),
  ]);
  const map = new ExtentMap(device.blocks, extents);
  const range = blockPolicy.range ?? { from: 0, to: device.blocks };
  const spent =
    readings!.first && readings!.last
      ? Date.parse(readings!.last) - Date.parse(readings!.first)
      : 0;
  const unread = unreadBlocks(map, range.from, range.to);
  return {
    device,
    range: blockPolicy.range,
    preview: blockPreview,
    healthAfter,
    tally: map.tally(),
    readings: readings!.count,
    secondsLeft:
      readings!.got > 0 && spent > 1000
        ? Math.round((unread * spent) / readings!.got / 1000)
        : null,
    extents: packed(extents),
    /** The first block of the last request, as far as it was told since. */
    at: null as number | null,
  };
}

/** Extents as pages get them: from, the first behind, grade, tries, pace. */
export const packed = (extents: readonly Extent[]) =>
  extents
    .filter(({ grade }) => grade !== 'unread')
    .map(
      ({ from, to, grade, tries, pace }) =>
        [from, to, grade, tries, pace] as [number, number, Extent['grade'], number, Extent['pace']],
    );
