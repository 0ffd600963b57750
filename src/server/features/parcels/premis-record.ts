/** What PREMIS is told of a medium: what went, what the ledger has of it, and what may be done. */
import { asc, eq, inArray, or } from 'drizzle-orm';
import type { PremisAgent, PremisEvent, PremisRecord } from '@/core/parcel/premis';
import { say } from '@/messages';
import { tell } from '@/messages/tell';
import { PROGRAM_VERSION } from '@/server/platform/version';
import type { Executor } from '@/server/platform/db/database';
import type { LedgerKind } from '@/server/states';
import { ledger } from '../ledger/tables';
import { media } from '../media/tables';
import { operators } from '../operators/tables';
import { holdsOf } from '../rights/holds';
import { rightsOfMedium } from '../rights/rights';
import type { Sent } from './payload-file';

type Medium = typeof media.$inferSelect;

/** Terms of the vocabulary of event types for what the ledger has; what is not here is a change. */
const EVENT_TYPES: Partial<Record<LedgerKind, string>> = {
  registered: 'accession',
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
/** What tells of the bench and not of the medium; and to whom else it was given, which is theirs. */
const LEFT_OUT: readonly LedgerKind[] = [
  ...(['stack', 'cleaned', 'self-test', 'head-dirty'] as const),
  ...(['handed-out', 'permitted', 'parcel', 'transfer', 'memory-card'] as const),
];
/** Entries of these are also made where it went wrong: their words say how it was. */
const EITHER_WAY: readonly LedgerKind[] = [
  ...(['fixity', 'sitting-held', 'sitting-paused', 'sitting-stopped'] as const),
  ...(['track', 'blocks', 'writeback-ended', 'writeback-outcome'] as const),
];
const FAILURES: readonly string[] = ['fixity.isDamaged', 'writebacks.writeBackGivenUp'];

function outcomeOf(kind: LedgerKind, code: string): PremisEvent['outcome'] {
  if (FAILURES.includes(code)) return 'failure';
  return EITHER_WAY.includes(kind) ? 'see the detail' : 'success';
}

const PROGRAM = 'program';
const agentOf = (operatorId: number | null): string =>
  operatorId === null ? PROGRAM : `operator-${operatorId}`;

/** Of the medium, and of those that were found to be it. */
async function entriesOf(db: Executor, medium: Medium) {
  const merged = db.select({ id: media.id }).from(media).where(eq(media.mergedIntoId, medium.id));
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
    .where(or(eq(ledger.mediumId, medium.id), inArray(ledger.mediumId, merged)))
    .orderBy(asc(ledger.id));
  return rows.filter(({ kind }) => !LEFT_OUT.includes(kind));
}

type Entry = Awaited<ReturnType<typeof entriesOf>>[number];

const eventOf = ({ id, at, kind, what, operatorId }: Entry): PremisEvent => ({
  ...{ id: `ledger-${id}`, at, detail: tell(what), agent: agentOf(operatorId) },
  type: EVENT_TYPES[kind] ?? OTHER_TYPE,
  outcome: outcomeOf(kind, what.code),
});

function agentsOf(entries: readonly Entry[]): PremisAgent[] {
  const people = new Map<string, PremisAgent>();
  for (const { operatorId, name } of entries) {
    const id = agentOf(operatorId);
    if (operatorId !== null) people.set(id, { id, name: name ?? id, type: 'person' });
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
  sent: readonly Sent[],
): Promise<PremisRecord> {
  const entries = await entriesOf(db, medium);
  return {
    code: medium.code,
    title: medium.title,
    files: sent.map(({ path, bytes, digests, type }) => ({
      ...{ path, bytes, ...digests, format: type },
      name: path.slice(path.lastIndexOf('/') + 1),
    })),
    events: entries.map(eventOf),
    agents: agentsOf(entries),
    rights: await rightsSaid(db, medium),
  };
}
