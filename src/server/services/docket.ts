/** Everything on a medium's page, in the order of the work. */
import { eq } from 'drizzle-orm';
import { kindsOf } from '@/core/image/kinds';
import { describeLayout } from '@/core/layout/layout';
import type { Executor } from '../db/database';
import { blobs, fairCopies, stations } from '../db/schema';
import { lineageOf, madeFrom } from './assemblies';
import { contentsOf, latestFairCopy } from './fair-copies';
import { layoutOfCopy } from './layouts';
import { ledgerOfMedium } from './ledger';
import { keptSettingsOf } from './kept-settings';
import { mediumByCode } from './media';
import { papersOf } from './papers';
import { relationsOf } from './relations';
import { listReturns } from './returns';
import { setOf } from './sets';
import { findingsOf } from './signatures';
import { sittingsOfMedium } from './sittings';
import { verdictsOf } from './verdicts';

export async function docketOf(db: Executor, code: string) {
  const medium = await mediumByCode(db, code);
  const [sittings, copy, history, returns, verdicts, [station]] = await Promise.all([
    sittingsOfMedium(db, medium.id),
    latestFairCopy(db, medium.id),
    ledgerOfMedium(db, medium.id),
    listReturns(db, medium.id),
    verdictsOf(db, medium.id),
    db.select({ id: stations.id }).from(stations).where(eq(stations.mediumId, medium.id)),
  ]);
  const [contents, capture] = await Promise.all([
    copy ? contentsOf(db, copy.id) : [],
    copy?.captureBlob
      ? db
          .select({ size: blobs.size, sha256: blobs.sha256 })
          .from(blobs)
          .where(eq(blobs.id, copy.captureBlob))
          .then(([row]) => row ?? null)
      : null,
  ]);
  const [papers, set, settings, related, found] = await Promise.all([
    papersOf(db, medium.id, medium.setName || null),
    setOf(db, medium.setName),
    keptSettingsOf(db, medium.id),
    relationsOf(db, medium.id),
    copy ? findingsOf(db, copy.id) : [],
  ]);
  const copies = (
    await db
      .select({ id: fairCopies.id })
      .from(fairCopies)
      .where(eq(fairCopies.mediumId, medium.id))
  ).map(({ id }) => id);
  const [lineage, children] = await Promise.all([lineageOf(db, copies), madeFrom(db, copies)]);
  const layout = copy && (await layoutOfCopy(db, copy));
  return {
    medium,
    station: station?.id ?? null,
    sittings,
    copy,
    layout: layout && { rule: layout, describes: describeLayout(layout), kinds: kindsOf(layout) },
    verdicts,
    settings,
    papers,
    set,
    related,
    findings: found,
    capture,
    contents,
    lineage,
    madeFrom: children,
    returns,
    history,
  };
}
export type Docket = Awaited<ReturnType<typeof docketOf>>;
