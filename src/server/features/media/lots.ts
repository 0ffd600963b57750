/** A lot: from whom it came, until when, how it is read; corrected with what it was, its name too. */
import { and, eq } from 'drizzle-orm';
import type { z } from 'zod';
import { said, type Words } from '@/core/said';
import type { Database, Executor } from '@/server/platform/db/database';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { refuseTaken } from '@/server/platform/db/unique-violation';
import { UserError, notFound } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { note } from '../ledger/ledger';
import { countPattern } from './codes';
import { correctIn } from './corrections';
import { keepNamed } from './media';
import type { LotChange } from './new-medium';
import { lots, media } from './tables';

type Lot = typeof lots.$inferSelect;

const orNothing = (text: string): Words => text || said('media.nothing');

const TOLD: { [F in keyof Lot]: (value: Lot[F]) => Words } = {
  name: orNothing,
  lender: orNothing,
  cameIn: orNothing,
  handBackBy: orNothing,
  revolutions: String,
  tries: String,
  sweep: (sweep) => said('media.sweepOf', { sweep }),
  codePattern: orNothing,
  gentle: (isGentle) => (isGentle ? said('media.yes') : said('media.no')),
};
const FACTS = Object.keys(TOLD) as (keyof Lot)[];

const told = <F extends keyof Lot>(fact: F, lot: Lot): Words => TOLD[fact](lot[fact]);

/** Its media follow its name. */
async function rename(tx: Executor, from: string, to: string): Promise<void> {
  await refuseTaken(
    tx.update(lots).set({ name: to }).where(eq(lots.name, from)),
    () => new UserError(said('media.lotIsThere', { name: to }), 409, 'name'),
  );
  await tx.update(media).set({ lot: to }).where(eq(media.lot, from));
}

/** Those of its media that came from the lender that the lot had. */
async function correctLenders(
  tx: Executor,
  operatorId: number,
  lot: string,
  { was, now }: { was: string; now: string },
): Promise<void> {
  const own = await tx
    .select({ code: media.code })
    .from(media)
    .where(and(eq(media.lot, lot), eq(media.lender, was)));
  if (own.length === 0) return;
  const rows = own.map(({ code }) => ({ code, change: { lender: now } }));
  await correctIn(tx, operatorId, rows, null);
}

export async function changeLot(
  db: Database,
  operatorId: number,
  wanted: string,
  { withMedia, ...change }: z.output<typeof LotChange>,
): Promise<void> {
  const name = sanitizeText(wanted);
  await db.transaction(async (tx) => {
    const [lot] = await tx.select().from(lots).where(eq(lots.name, name)).for('update');
    if (!lot) throw notFound(said('media.lot', { name }));
    const now: Lot = { ...lot, ...change, name: change.name ?? name };
    const changed = FACTS.filter((fact) => now[fact] !== lot[fact]);
    if (changed.length === 0) return;
    if (now.name !== name) await rename(tx, name, now.name);
    await tx.update(lots).set(now).where(eq(lots.name, now.name));
    if (now.codePattern !== lot.codePattern) await countPattern(tx, now.codePattern);
    await keepNamed(tx, [{ lot: now.name, lender: now.lender, setName: '' }]);
    const lender = { was: lot.lender, now: now.lender };
    if (withMedia && lender.was !== lender.now)
      await correctLenders(tx, operatorId, now.name, lender);
    await note(tx, {
      operatorId,
      kind: 'lot',
      what: said('media.lotCorrected', {
        name,
        changes: changed.map((fact) =>
          said('media.ofLotWasNow', { fact, was: told(fact, lot), now: told(fact, now) }),
        ),
      }),
    });
    await announce(tx, { kind: 'media' });
  });
}
