/** The fair copy that a sitting comes to, from every reading of its medium. */
import { eq } from 'drizzle-orm';
import { said } from '@/core/said';
import type { Executor } from '@/server/platform/db/database';
import type { JobContext } from '@/server/platform/jobs/engine';
import type { NewFairCopy } from '../copies/keeping/fair-copies';
import { settleMedium } from '../copies/settling/settle-readings';
import type { SettlingWatch } from '../copies/settling/watched-decode';
import type { SittingOf } from './sitting-run';
import { tellSitting } from './sitting-state';
import { sittings } from './tables';

/** Null where no sector was found. */
export async function settledCopy(
  db: Executor,
  { sitting, medium, station }: SittingOf,
  watch: SettlingWatch,
): Promise<NewFairCopy | null> {
  const description = {
    code: medium.code,
    title: medium.title,
    label: medium.labelText,
    lender: medium.lender,
    drive: `${station.model}, ${station.serial}`,
  };
  const settled = await settleMedium(db, medium.id, description, watch);
  return (
    settled && {
      operatorId: sitting.startedBy,
      mediumId: medium.id,
      source: 'sitting',
      image: settled.image,
      settled,
      captureBlob: sitting.captureBlob,
      problems: settled.problems,
      sittingId: sitting.id,
      stationId: station.id,
    }
  );
}

/** Tells the sitting's pages how far it is, and hears who will not wait. */
export const watchOfSettling = (
  { db, commit, signal }: JobContext,
  sitting: Pick<typeof sittings.$inferSelect, 'id' | 'stationId' | 'mediumId' | 'startedBy'>,
): SettlingWatch => ({
  signal,
  tell: (progress) =>
    commit(async (tx) => {
      await tx
        .update(sittings)
        .set({ now: said('copies.hurtTracksRead', progress) })
        .where(eq(sittings.id, sitting.id));
      await tellSitting(tx, sitting);
    }),
  isHurried: async () => {
    const [row] = await db
      .select({ requestedAction: sittings.requestedAction })
      .from(sittings)
      .where(eq(sittings.id, sitting.id));
    return row?.requestedAction === 'hurry';
  },
});
