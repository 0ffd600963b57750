/** Events of a medium as they leave the house: what the ledger has of it, oldest first. */
import { asc, eq, inArray, or } from 'drizzle-orm';
import { Elsewhere, type EventsFile } from '@/core/parcel/event-record';
import type { Said } from '@/core/said';
import { tell } from '@/messages/tell';
import type { Executor } from '@/server/platform/db/database';
import type { LedgerKind } from '@/server/states';
import { ledger } from '../ledger/tables';
import { media } from '../media/tables';
import { operators } from '../operators/tables';

/** What tells of the bench and not of the medium; and to whom else it was given, which is theirs. */
const LEFT_OUT: readonly LedgerKind[] = [
  ...(['stack', 'cleaned', 'self-test', 'head-dirty'] as const),
  ...(['handed-out', 'permitted', 'parcel', 'transfer', 'memory-card'] as const),
  ...(['handed-back', 'sent-out', 'came-back', 'folder-opened', 'folder-closed'] as const),
];

export interface MediumEvent {
  id: number;
  at: Date;
  /** Of the ledger that noted it. */
  kind: string;
  what: Said;
  /** Null of what the application found by itself, and of what happened in another house. */
  operatorId: number | null;
  /** Who was at work; null where it was the application. */
  name: string | null;
}

/** An event that came with a parcel is told as it was told there. */
function asItHappened(row: MediumEvent): MediumEvent {
  const came = row.kind === 'elsewhere' ? Elsewhere.safeParse(row.what.with) : null;
  if (!came?.success) return row;
  const { at, who, kind, what } = came.data;
  return { id: row.id, at: new Date(at), kind, what, operatorId: null, name: who || null };
}

/** Of the medium, and of those that were found to be it. */
export async function eventsOfMedium(db: Executor, mediumId: number): Promise<MediumEvent[]> {
  const merged = db.select({ id: media.id }).from(media).where(eq(media.mergedIntoId, mediumId));
  const rows = await db
    .select({
      id: ledger.id,
      at: ledger.at,
      kind: ledger.kind,
      what: ledger.what,
      operatorId: ledger.operatorId,
      name: operators.name,
    })
    .from(ledger)
    .leftJoin(operators, eq(operators.id, ledger.operatorId))
    .where(or(eq(ledger.mediumId, mediumId), inArray(ledger.mediumId, merged)))
    .orderBy(asc(ledger.id));
  return rows.filter(({ kind }) => !LEFT_OUT.includes(kind)).map(asItHappened);
}

export const eventsFile = (events: readonly MediumEvent[]): EventsFile => ({
  format: 'frail-spindle-events',
  version: 1,
  events: events.map(({ at, kind, what, name }) => ({
    ...{ at: at.toISOString(), kind, who: name ?? '', what },
    told: tell(what),
  })),
});
