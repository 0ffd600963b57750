/**
 * What a person says that a medium is to be settled by: a layout worked out from it, or that an
 * oddity was made. A worker then settles it once more from what is kept of it.
 */
import { eq } from 'drizzle-orm';
import { z } from 'zod';
import { layoutJson } from '@/core/layout/layout-json';
import type { Database } from '@/server/platform/db/database';
import { fairCopies, trackOverrides, verdicts } from '../tables';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { notFound } from '@/server/platform/errors';
import { askToSettle } from './settlings';
import { addLayoutIn } from '@/server/features/layouts/layouts';
import { note } from '@/server/features/ledger/ledger';
import { describeSetting, type NewSetting } from './track-overrides';
import { mediumByCode } from '@/server/features/media/media';
import type { NewVerdict } from './verdicts';
import { said } from '@/core/said';

export const AdoptProposal = z.object({
  id: z.string().max(80),
  title: z.string().max(200).default(''),
});

/**
 * Keeps the layout that was worked out from a copy's capture under a name of its own, and settles
 * the medium by it.
 */
export async function adoptProposal(
  db: Database,
  operatorId: number,
  fairCopyId: number,
  { id, title }: z.output<typeof AdoptProposal>,
): Promise<void> {
  const [copy] = await db.select().from(fairCopies).where(eq(fairCopies.id, fairCopyId));
  if (!copy?.proposal) throw notFound(said('copies.proposedLayoutWithThis'));
  const layout = { ...layoutJson(copy.proposal), id, title: title || undefined };
  const { mediumId } = copy;
  await db.transaction(async (tx) => {
    await addLayoutIn(tx, operatorId, layout);
    await askToSettle(tx, { operatorId, mediumId, cause: 'layout', about: { layout: id } });
  });
}

/** Keeps a setting that a person found better for one track, and settles the medium with it. */
export async function keepSetting(
  db: Database,
  operatorId: number,
  code: string,
  { cylinder, head, setting, reason }: z.output<typeof NewSetting>,
): Promise<void> {
  const medium = await mediumByCode(db, code);
  await db.transaction(async (tx) => {
    const values = { setting, reason: sanitizeText(reason), operatorId, at: new Date() };
    await tx
      .insert(trackOverrides)
      .values({ mediumId: medium.id, cylinder, head, ...values })
      .onConflictDoUpdate({
        target: [trackOverrides.mediumId, trackOverrides.cylinder, trackOverrides.head],
        set: values,
      });
    await note(tx, {
      operatorId,
      kind: 'setting-kept',
      mediumId: medium.id,
      what: said('copies.cylinderHeadIsRead', {
        cylinder,
        head,
        setting: describeSetting(setting),
        reason: values.reason,
      }),
    });
    await askToSettle(tx, {
      operatorId,
      mediumId: medium.id,
      cause: 'setting',
      about: { cylinder, head },
    });
  });
}

/** Stores a verdict, and settles the medium by it. */
export async function giveVerdict(
  db: Database,
  operatorId: number,
  code: string,
  { cylinder, head, r, verdict, what }: z.output<typeof NewVerdict>,
): Promise<void> {
  const medium = await mediumByCode(db, code);
  await db.transaction(async (tx) => {
    const values = { verdict, what: sanitizeText(what), operatorId, at: new Date() };
    await tx
      .insert(verdicts)
      .values({ mediumId: medium.id, cylinder, head, r, ...values })
      .onConflictDoUpdate({
        target: [verdicts.mediumId, verdicts.cylinder, verdicts.head, verdicts.r],
        set: values,
      });
    const ruling = verdict === 'as-made' ? said('copies.asMadeItIs') : 'damage';
    await note(tx, {
      operatorId,
      kind: 'verdict',
      mediumId: medium.id,
      what: said('copies.cylinderHeadSectorIs', { cylinder, head, r, ruling }),
    });
    await askToSettle(tx, { operatorId, mediumId: medium.id, cause: 'verdict' });
  });
}
