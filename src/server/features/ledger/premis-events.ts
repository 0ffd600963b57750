/** What PREMIS calls the events of the ledger: terms of its vocabulary of event types. */
import type { PremisEvent } from '@/core/parcel/premis';
import type { LedgerKind } from '@/server/states';

/** What is not here is a change. */
const EVENT_TYPES: Partial<Record<LedgerKind, string>> = {
  registered: 'accession',
  arrived: 'transfer',
  described: 'metadata modification',
  'sitting-started': 'imaging',
  'sitting-resumed': 'imaging',
  'sitting-stopped': 'imaging',
  track: 'imaging',
  blocks: 'imaging',
  'fair-copy': 'creation',
  'taken-in': 'ingestion',
  'handed-out': 'dissemination',
  parcel: 'dissemination',
  'writeback-ended': 'replication',
  'writeback-started': 'replication',
  verdict: 'appraisal',
  confirmed: 'validation',
  'paper-added': 'ingestion',
  scanned: 'virus check',
  withdrawn: 'deaccession',
  fixity: 'fixity check',
};
const OTHER_TYPE = 'modification';
/** Entries of these are also made where it went wrong: their words say how it was. */
const EITHER_WAY: readonly string[] = [
  ...(['fixity', 'sitting-held', 'sitting-paused', 'sitting-stopped'] satisfies LedgerKind[]),
  ...(['track', 'blocks', 'writeback-ended', 'writeback-outcome'] satisfies LedgerKind[]),
];
const FAILURES: readonly string[] = ['fixity.isDamaged', 'writebacks.writeBackGivenUp'];

export const eventType = (kind: string): string =>
  (EVENT_TYPES as Record<string, string>)[kind] ?? OTHER_TYPE;

/** By the kind of an entry and the code of what it says. */
export function eventOutcome(kind: string, code: string): PremisEvent['outcome'] {
  if (FAILURES.includes(code)) return 'failure';
  return EITHER_WAY.includes(kind) ? 'see the detail' : 'success';
}
