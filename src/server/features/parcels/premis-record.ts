/** What PREMIS is told of a medium: what went, what the ledger has of it, and what may be done. */
import type { PremisAgent, PremisEvent, PremisRecord } from '@/core/parcel/premis';
import { say } from '@/messages';
import { tell } from '@/messages/tell';
import { PROGRAM_VERSION } from '@/server/platform/version';
import type { Executor } from '@/server/platform/db/database';
import type { LedgerKind } from '@/server/states';
import type { media } from '../media/tables';
import { holdsOf } from '../rights/holds';
import { rightsOfMedium } from '../rights/rights';
import type { MediumEvent } from './medium-events';
import type { Sent } from './payload-file';

type Medium = typeof media.$inferSelect;

/** Terms of the vocabulary of event types for what the ledger has; what is not here is a change. */
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

function outcomeOf(kind: string, code: string): PremisEvent['outcome'] {
  if (FAILURES.includes(code)) return 'failure';
  return EITHER_WAY.includes(kind) ? 'see the detail' : 'success';
}

const PROGRAM = 'program';
/** People of another house are known by their names alone. */
const agentOf = ({ operatorId, name }: MediumEvent): string =>
  operatorId !== null ? `operator-${operatorId}` : name ? `person ${name}` : PROGRAM;

const eventOf = (event: MediumEvent): PremisEvent => ({
  ...{ id: `ledger-${event.id}`, at: event.at, detail: tell(event.what), agent: agentOf(event) },
  type: (EVENT_TYPES as Record<string, string>)[event.kind] ?? OTHER_TYPE,
  outcome: outcomeOf(event.kind, event.what.code),
});

function agentsOf(events: readonly MediumEvent[]): PremisAgent[] {
  const people = new Map<string, PremisAgent>();
  for (const event of events) {
    const id = agentOf(event);
    if (id !== PROGRAM) people.set(id, { id, name: event.name ?? id, type: 'person' });
  }
  const program: PremisAgent = {
    ...{ id: PROGRAM, name: 'Frail Spindle', type: 'software', version: PROGRAM_VERSION },
  };
  return [...people.values(), program];
}

async function rightsSaid(db: Executor, medium: Medium): Promise<PremisRecord['rights']> {
  const { statement } = await rightsOfMedium(db, medium);
  const [hold] = await holdsOf(db, [medium.id]);
  if (!statement && !hold) return null;
  return {
    statement: statement?.statement ?? '',
    words: statement?.words ?? '',
    restriction: hold
      ? { reason: hold.isPersonal ? say.rights.isPersonal : hold.reason, opensOn: hold.opensOn }
      : null,
  };
}

export async function premisRecordOf(
  db: Executor,
  medium: Medium,
  events: readonly MediumEvent[],
  sent: readonly Sent[],
): Promise<PremisRecord> {
  return {
    code: medium.code,
    title: medium.title,
    files: sent.map(({ path, bytes, digests, type }) => ({
      ...{ path, bytes, ...digests, format: type },
      name: path.slice(path.lastIndexOf('/') + 1),
    })),
    events: events.map(eventOf),
    agents: agentsOf(events),
    rights: await rightsSaid(db, medium),
  };
}
