/** Everything on a medium's page, in the order of the work. */
import { tell } from '@/messages/tell';
import { eq } from 'drizzle-orm';
import { kindsOf } from '@/core/image/kinds';
import { describeLayout, type Layout } from '@/core/layout/layout';
import type { Executor } from '@/server/platform/db/database';
import { folderOfMedium } from '../folders/folders';
import { fairCopies } from '../copies/tables';
import { stations } from '../stations/tables';
import { blobs } from '@/server/platform/blobs/tables';
import { lineageOf, madeFrom } from '../assemblies/queries';
import { filesOnDevice, listVolumes } from '../copies/listing';
import { latestFairCopy } from '../copies/queries';
import { descriptionOfMedium } from '../descriptions/descriptions';
import { damageOfMedium } from '../fixity/fixity';
import { layoutOfCopy } from '../layouts/layouts';
import { ledgerOfMedium } from '../ledger/entries';
import { keptSettingsOf } from '../copies/settling/track-overrides';
import { mediumByCode } from '../media/media';
import { papersOf } from '../media/papers';
import { relationsOf } from './relations';
import { listWritebacks } from '../writebacks/queries';
import { setOf } from '../media/sets';
import { whereaboutsOf } from '../receipts/whereabouts';
import { holdsOf } from '../rights/holds';
import { rightsOfMedium } from '../rights/rights';
import { findingsOf } from '../signatures/signatures';
import { nextDriveOf } from '../sittings/next-drive';
import { sittingsOfMedium } from '../sittings/queries';
import { latestSettling } from '../copies/settling/settlings';
import { verdictsOf } from '../copies/settling/verdicts';

const layoutView = (layout: Layout) => ({
  rule: layout,
  describes: tell(describeLayout(layout)),
  kinds: kindsOf(layout),
});

async function sizeOfBlob(db: Executor, id: string) {
  const [row] = await db
    .select({ size: blobs.size, sha256: blobs.sha256 })
    .from(blobs)
    .where(eq(blobs.id, id));
  return row ?? null;
}

/** A copy as its page shows it: places in doubt are asked for stretch by stretch. */
const shownCopy = ({ inDoubt: _, ...copy }: typeof fairCopies.$inferSelect) => copy;

async function copiesOf(db: Executor, mediumId: number): Promise<number[]> {
  const rows = await db
    .select({ id: fairCopies.id })
    .from(fairCopies)
    .where(eq(fairCopies.mediumId, mediumId));
  return rows.map(({ id }) => id);
}

async function newestCopyView(db: Executor, mediumId: number) {
  const copy = await latestFairCopy(db, mediumId);
  const [contents, onDevice, capture, nextDrive] = await Promise.all([
    copy ? listVolumes(db, copy.id) : [],
    copy?.blocks ? filesOnDevice(db, copy.id, copy.blocks) : null,
    copy?.captureBlob ? sizeOfBlob(db, copy.captureBlob) : null,
    copy && !copy.blocks ? nextDriveOf(db, mediumId, copy.tally) : null,
  ]);
  return { copy, contents, onDevice, capture, nextDrive };
}

export async function mediumDetail(db: Executor, code: string) {
  const medium = await mediumByCode(db, code);
  const [sittings, newest, history, writebacks, verdicts, [station]] = await Promise.all([
    sittingsOfMedium(db, medium.id),
    newestCopyView(db, medium.id),
    ledgerOfMedium(db, medium.id),
    listWritebacks(db, medium.id),
    verdictsOf(db, medium.id),
    db.select({ id: stations.id }).from(stations).where(eq(stations.mediumId, medium.id)),
  ]);
  const { copy, ...ofCopy } = newest;
  const [papers, set, settings, related, found, settling, damage, described] = await Promise.all([
    papersOf(db, { mediumId: medium.id, setName: medium.setName }),
    setOf(db, medium.setName),
    keptSettingsOf(db, medium.id),
    relationsOf(db, medium.id),
    copy ? findingsOf(db, copy.id) : [],
    latestSettling(db, medium.id),
    damageOfMedium(db, medium.id),
    descriptionOfMedium(db, medium),
  ]);
  const [rights, holds, whereabouts, folder] = await Promise.all([
    rightsOfMedium(db, medium),
    holdsOf(db, [medium.id]),
    whereaboutsOf(db, medium.id),
    folderOfMedium(db, medium.id),
  ]);
  const copies = await copiesOf(db, medium.id);
  const [lineage, children] = await Promise.all([lineageOf(db, copies), madeFrom(db, copies)]);
  const layout = copy && (await layoutOfCopy(db, copy));
  return {
    medium,
    station: station?.id ?? null,
    whereabouts,
    folder,
    sittings,
    copy: copy && shownCopy(copy),
    layout: layout && layoutView(layout),
    verdicts,
    settings,
    description: described,
    rights,
    holds,
    papers,
    set,
    related,
    findings: found,
    settling,
    damage,
    ...ofCopy,
    lineage,
    madeFrom: children,
    writebacks,
    history,
  };
}
export type Docket = Awaited<ReturnType<typeof mediumDetail>>;
