/**
 * Two media that were registered of one disk become one: what was read, kept, said and laid beside
 * either is the one's, which takes over what was registered of the other alone. The other is
 * withdrawn; its code leads to the one, and its facts stand in the ledger.
 */
import { eq, inArray } from 'drizzle-orm';
import { said } from '@/core/said';
import type { Database, Executor } from '@/server/platform/db/database';
import { UserError } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { enqueue } from '@/server/platform/jobs/enqueue';
import { moveCopies } from '../copies/keeping/move-copies';
import { describeAsWell } from '../descriptions/descriptions';
import { restrictAsWell } from '../rights/rights';
import { note } from '../ledger/ledger';
import { correctIn } from '../media/corrections';
import { type Correction, factsSaid } from '../media/facts';
import { refuseWithdrawn } from '../media/in-use';
import { mediumByCode } from '../media/media';
import { movePapers } from '../media/papers';
import { media } from '../media/tables';
import { refuseInWork, takeOutOfUse } from '../media/withdrawals';
import { moveOut } from '../receipts/whereabouts';
import { moveSittings } from '../sittings/move-sittings';
import { moveRate } from '../sounds/sound-rates';
import { moveRelations } from './relations';

type Medium = typeof media.$inferSelect;

/** What is registered of the one that goes, and not of the one that stays. */
function takenOver(from: Medium, to: Medium): Correction {
  const texts = (['labelText', 'lender', 'lot', 'condition', 'machine', 'shelf'] as const).filter(
    (fact) => to[fact] === '' && from[fact] !== '',
  );
  const isInNoSet = to.setName === '' && from.setName !== '';
  const isSideSaid = to.recordedSide === 'not-said' && from.recordedSide !== 'not-said';
  return {
    ...Object.fromEntries(texts.map((fact) => [fact, from[fact]])),
    ...(isInNoSet && { setName: from.setName, setNumber: from.setNumber }),
    ...(isSideSaid && { recordedSide: from.recordedSide }),
    ...(to.origin === null && from.origin !== null && { origin: from.origin }),
    marks: Object.fromEntries(from.marks.map((mark) => [mark, true])),
    treatFirst: from.treatFirst || to.treatFirst,
    writeProtected: from.writeProtected || to.writeProtected,
  };
}

/** Locked in the order of their numbers, so that two who merge at once never wait for each other. */
async function bothLocked(tx: Executor, asked: string, into: string): Promise<[Medium, Medium]> {
  const [from, to] = [await mediumByCode(tx, asked), await mediumByCode(tx, into)];
  if (from.id === to.id) throw new UserError(said('holdings.isTheSame', { code: from.code }), 409);
  const locked = await tx
    .select()
    .from(media)
    .where(inArray(media.id, [from.id, to.id]))
    .orderBy(media.id)
    .for('update');
  const found = new Map(locked.map((medium) => [medium.id, medium]));
  return [found.get(from.id)!, found.get(to.id)!];
}

async function refuseUnlike(tx: Executor, from: Medium, to: Medium): Promise<void> {
  await refuseInWork(tx, [from, to]);
  for (const medium of [from, to]) {
    refuseWithdrawn(medium);
    if (medium.isBlank || medium.isReference)
      throw new UserError(said('holdings.isOurs', { code: medium.code }), 409);
  }
  if (from.form !== to.form)
    throw new UserError(said('holdings.otherForm', { code: from.code, code2: to.code }), 409);
}

/** Readings, copies, papers and what was said of them; gives how many of each. */
async function moveAll(tx: Executor, operatorId: number, from: Medium, to: Medium) {
  const moved = {
    sittings: await moveSittings(tx, from.id, to.id),
    copies: await moveCopies(tx, from.id, to.id),
    papers: await movePapers(tx, from.id, to.id),
  };
  await moveRate(tx, from.id, to.id);
  await moveOut(tx, from.id, to.id);
  await moveRelations(tx, from, to);
  await describeAsWell(tx, operatorId, from, to);
  return moved;
}

/** `asked` goes, `into` stays; gives the code of the one that stays. */
export async function mergeMedia(
  db: Database,
  operatorId: number,
  asked: string,
  { into, reason }: { into: string; reason: string },
): Promise<{ code: string }> {
  return db.transaction(async (tx) => {
    const [from, to] = await bothLocked(tx, asked, into);
    await refuseUnlike(tx, from, to);
    const moved = await moveAll(tx, operatorId, from, to);
    await takeOutOfUse(tx, from.id, { reason, mergedIntoId: to.id });
    // What was merged into it before leads to where it leads now.
    await tx.update(media).set({ mergedIntoId: to.id }).where(eq(media.mergedIntoId, from.id));
    await correctIn(tx, operatorId, [{ code: to.code, change: takenOver(from, to) }], null);
    await restrictAsWell(tx, operatorId, from, await mediumByCode(tx, to.code));
    await enqueue(tx, 'alike', { mediumId: to.id });
    await note(tx, {
      operatorId,
      kind: 'merged',
      mediumId: to.id,
      what: said('holdings.merged', {
        ...{ code: from.code, into: to.code, reason, ...moved, facts: factsSaid(from) },
      }),
    });
    await announce(tx, { kind: 'media' });
    return { code: to.code };
  });
}
