/** What PREMIS is told of a medium: what went, what the ledger has of it, and what may be done. */
import type { PremisAgent, PremisEvent, PremisRecord } from '@/core/parcel/premis';
import { say } from '@/messages';
import { tell } from '@/messages/tell';
import { PROGRAM_VERSION } from '@/server/platform/version';
import type { Executor } from '@/server/platform/db/database';
import { eventOutcome, eventType } from '../ledger/premis-events';
import type { media } from '../media/tables';
import { holdsOf } from '../rights/holds';
import { rightsOfMedium } from '../rights/rights';
import type { MediumEvent } from './medium-events';
import type { Sent } from './payload-file';

type Medium = typeof media.$inferSelect;

const PROGRAM = 'program';
/** People of another house are known by their names alone. */
const agentOf = ({ operatorId, name }: MediumEvent): string =>
  operatorId !== null ? `operator-${operatorId}` : name ? `person ${name}` : PROGRAM;

const eventOf = (event: MediumEvent): PremisEvent => ({
  ...{ id: `ledger-${event.id}`, at: event.at, detail: tell(event.what), agents: [agentOf(event)] },
  type: eventType(event.kind),
  outcome: eventOutcome(event.kind, event.what.code),
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
