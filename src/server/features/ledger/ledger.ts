/** The ledger: every event, who, when, with what, and how it came out. */
import type { Said } from '@/core/said';
import type { Executor } from '@/server/platform/db/database';
import { announce } from '@/server/platform/events';
import type { LedgerKind } from '@/server/states';
import { indexEntries } from './ledger-words';
import { ledger } from './tables';

interface LedgerNote {
  /** Null of what the application found by itself. */
  operatorId: number | null;
  kind: LedgerKind;
  what: Said;
  mediumId?: number | null;
  stationId?: number | null;
  sittingId?: number | null;
  writebackId?: number | null;
}

/** Writes entries in the caller's transaction. */
export async function noteMany(tx: Executor, entries: LedgerNote[]): Promise<void> {
  if (entries.length === 0) return;
  const written = await tx
    .insert(ledger)
    .values(entries)
    .returning({ id: ledger.id, what: ledger.what });
  await indexEntries(tx, written);
  await announce(tx, { kind: 'ledger' });
}

/** Writes an entry in the caller's transaction. */
export const note = (tx: Executor, entry: LedgerNote): Promise<void> => noteMany(tx, [entry]);
