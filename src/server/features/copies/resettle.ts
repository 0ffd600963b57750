/**
 * What a person says that a medium is to be settled by: a layout worked out from it, or that an
 * oddity was made. It is then settled once more from what is kept of it.
 */
import { desc, eq } from 'drizzle-orm';
import { z } from 'zod';
import { readContainer } from '@/core/flux/container-reader';
import { layoutJson } from '@/core/layout/layout-json';
import { nodeDigester } from '@/node/digester';
import { readBlob } from '@/server/platform/blobs/read-blob';
import type { Database } from '@/server/platform/db/database';
import { fairCopies, trackOverrides, verdicts } from './tables';
import { media } from '../media/tables';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { UserError, notFound } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { storeFairCopy } from './fair-copies';
import { settle, settleMedium } from './settle-readings';
import { addLayout, allLayouts } from '../layouts/layouts';
import { note } from '../ledger/ledger';
import { describeSetting, settingsOf, type NewSetting } from './track-overrides';
import { mediumByCode } from '../media/media';
import { asMadeSectors, type NewVerdict } from './verdicts';

/**
 * Decodes all sittings' captures, or the taken-in one, again, and stores a fair copy beside the
 * earlier ones.
 */
async function resettle(
  db: Database,
  operatorId: number,
  mediumId: number,
  why: string,
): Promise<void> {
  const [medium] = await db.select().from(media).where(eq(media.id, mediumId));
  const [copy] = await db
    .select()
    .from(fairCopies)
    .where(eq(fairCopies.mediumId, mediumId))
    .orderBy(desc(fairCopies.id))
    .limit(1);
  if (!medium || !copy) throw notFound('fair copy of this medium');
  if (copy.source !== 'sitting' && !copy.captureBlob)
    throw new UserError("A flat image can't be settled anew: there is no capture of this medium.");
  const description = {
    code: medium.code,
    title: medium.title,
    label: medium.labelText,
    lender: medium.lender,
  };
  const container =
    copy.source === 'upload' && copy.captureBlob
      ? readContainer(await readBlob(db, copy.captureBlob), nodeDigester)
      : null;
  const settled = container
    ? await settle({
        header: container.header,
        readings: container.tracks,
        problems: container.problems,
        description,
        layouts: await allLayouts(db),
        asMade: await asMadeSectors(db, mediumId),
        settings: await settingsOf(db, mediumId),
      })
    : await settleMedium(db, mediumId, description);
  if (!settled) throw new UserError('Nothing was found in the captures that could be settled.');
  await db.transaction((tx) =>
    storeFairCopy(tx, {
      operatorId,
      mediumId,
      source: copy.source,
      sourceName: copy.sourceName ?? undefined,
      image: settled.image,
      settled,
      captureBlob: copy.captureBlob,
      problems: settled.problems,
      why,
    }),
  );
}

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
  if (!copy?.proposal) throw notFound('proposed layout with this copy');
  await addLayout(db, operatorId, { ...layoutJson(copy.proposal), id, title: title || undefined });
  await resettle(db, operatorId, copy.mediumId, `Settled by the layout ${id}`);
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
      what:
        `Cylinder ${cylinder}, head ${head} is read with a setting of its own: ` +
        `${describeSetting(setting)}. ${values.reason}`,
    });
    await announce(tx, { kind: 'media' });
  });
  await resettle(
    db,
    operatorId,
    medium.id,
    `Settled with a setting of its own for cylinder ${cylinder}, head ${head}`,
  );
}

/** Stores a verdict, and settles the medium by it. */
export async function giveVerdict(
  db: Database,
  operatorId: number,
  code: string,
  { cylinder, head, r, verdict, what }: z.output<typeof NewVerdict>,
): Promise<void> {
  const [medium] = await db
    .select()
    .from(media)
    .where(eq(media.code, sanitizeText(code)));
  if (!medium) throw notFound(`medium ${code}`);
  await db.transaction(async (tx) => {
    const values = { verdict, what: sanitizeText(what), operatorId, at: new Date() };
    await tx
      .insert(verdicts)
      .values({ mediumId: medium.id, cylinder, head, r, ...values })
      .onConflictDoUpdate({
        target: [verdicts.mediumId, verdicts.cylinder, verdicts.head, verdicts.r],
        set: values,
      });
    const said = verdict === 'as-made' ? 'as made; it is never mended' : 'damage';
    await note(tx, {
      operatorId,
      kind: 'verdict',
      mediumId: medium.id,
      what: `Cylinder ${cylinder}, head ${head}, sector ${r} is ${said}.`,
    });
    await announce(tx, { kind: 'media' });
  });
  await resettle(db, operatorId, medium.id, 'Settled by what was said of its oddities');
}
