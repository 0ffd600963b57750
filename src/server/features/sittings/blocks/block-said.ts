/** What the ledger is told of a device that is read block by block. */
import { said, type Said } from '@/core/said';
import type { BlockOutcome } from '@/core/block/apply-outcome';
import type { BlockMedium } from '@/core/block/device';
import { unsoundRuns, type ExtentMap } from '@/core/block/extent-map';
import type { BlockPolicy, ReadBlocks } from '@/core/block/salvage-plan';

/** What was asked for and has no sound bytes; null where nothing is left. */
export function leftSaid(map: ExtentMap, policy: BlockPolicy | null): Said | null {
  const { from, to } = policy?.range ?? { from: 0, to: map.blocks };
  const left = unsoundRuns(map, from, to).length;
  return left > 0 ? said('sittings.ofBlocksLeftWithout', { left }) : null;
}

/**
 * A sentence for the ledger where a request brought news; null for one that simply read, or failed
 * as before.
 */
export function outcomeSaid(
  { from, count, pass }: ReadBlocks,
  why: 'unreadable' | 'time-out' | null,
  { got, toldWhere }: BlockOutcome,
  gained: number,
  failedBefore: boolean,
): Said | null {
  if (pass > 1 && gained > 0)
    return said('sittings.moreReadForThe', {
      from,
      to: from + count - 1,
      gained,
      pass,
    });
  // One line a hard area, not one a block of it.
  if (pass === 1 && why !== null && !failedBefore)
    return said('sittings.whatIsHardHere', {
      where: toldWhere
        ? said('sittings.block', { block: from + got })
        : said('sittings.aBlockOfTo', { from, to: from + count - 1 }),
      isLate: why === 'time-out',
    });
  return null;
}

/** What a drive says of itself now against before, where something got worse. */
export function healthSaid(
  before: BlockMedium['health'],
  after: BlockMedium['health'],
): Said | null {
  if (!before || !after) return null;
  const changed = after.flatMap(({ name, value }) => {
    const was = before.find((each) => each.name === name)?.value;
    return was !== undefined && was !== value
      ? [said('sittings.beforeAfter', { name, was, value })]
      : [];
  });
  return changed.length > 0
    ? said('sittings.healthOfTheDrive', { changed })
    : said('sittings.healthOfTheDriveAs');
}
