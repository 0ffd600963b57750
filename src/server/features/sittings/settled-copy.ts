/** The fair copy that a sitting comes to, from every reading of its medium. */
import type { Executor } from '@/server/platform/db/database';
import type { NewFairCopy } from '../copies/keeping/fair-copies';
import { settleMedium } from '../copies/settling/settle-readings';
import type { SittingOf } from './sitting-run';

/** Null where no sector was found. */
export async function settledCopy(
  db: Executor,
  { sitting, medium, station }: SittingOf,
): Promise<NewFairCopy | null> {
  const settled = await settleMedium(db, medium.id, {
    code: medium.code,
    title: medium.title,
    label: medium.labelText,
    lender: medium.lender,
    drive: `${station.model}, ${station.serial}`,
  });
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
