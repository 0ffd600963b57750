/**
 * Entries of the ledger as a file, oldest first: those that are meant, all of them, streamed. As a
 * table (CSV, or lines of JSON with the event as code and parameters), as PREMIS 3.0, as PROV-JSON.
 */
import { and, inArray, lte, max, type SQL } from 'drizzle-orm';
import { z } from 'zod';
import {
  premisAgent,
  PREMIS_CLOSING,
  premisEntity,
  premisEvent,
  PREMIS_OPENING,
} from '@/core/parcel/premis';
import { provJson, type ProvAgent } from '@/core/parcel/prov';
import type { Database } from '@/server/platform/db/database';
import { download } from '@/server/platform/http/respond';
import { tableDownload } from '@/server/platform/http/table-download';
import { PROGRAM_VERSION } from '@/server/platform/version';
import { media } from '../media/tables';
import { operators } from '../operators/tables';
import { houses } from '../second-store/tables';
import { stations } from '../stations/tables';
import { eachEntry } from './entries';
import { eventOutcome, eventType } from './premis-events';
import { LedgerQuestion, meantBy } from './questions';
import { ledger } from './tables';

export const ExportQuestion = LedgerQuestion.extend({
  as: z.enum(['csv', 'json', 'premis', 'prov']).default('csv'),
});
type ExportQuestion = z.output<typeof ExportQuestion>;

type Entry = Awaited<ReturnType<ReturnType<typeof eachEntry>['next']>>['value'] & object;

const COLUMNS = [
  ...(['number', 'at', 'who', 'kind', 'medium', 'station', 'sitting', 'event', 'what'] as const),
] as const;

async function* tableRows(db: Database, condition: SQL | undefined) {
  for await (const entry of eachEntry(db, condition)) {
    const { id, at, who, kind, code, stationId, sittingId, what } = entry;
    yield {
      ...{ number: id, at, who, kind, medium: code, what },
      ...{ station: stationId, sitting: sittingId, event: entry.said.code },
    };
  }
}

/** A line an entry: the event as it is kept, beside its words. */
async function* jsonLines(db: Database, condition: SQL | undefined): AsyncGenerator<string> {
  for await (const entry of eachEntry(db, condition)) {
    const { id, at, who, kind, code, stationId, sittingId, what, said: event } = entry;
    const line = { number: id, at, who, kind, medium: code, station: stationId };
    yield `${JSON.stringify({ ...line, sitting: sittingId, what, event })}\n`;
  }
}

const PROGRAM = 'program';

/** Who did it first, then with which drive. */
const agentsOf = ({ operatorId, stationId }: Entry): string[] => [
  operatorId === null ? PROGRAM : `operator-${operatorId}`,
  ...(stationId === null ? [] : [`station-${stationId}`]),
];

/** Everybody that entries can be of: there are few of them. */
async function everyAgent(db: Database): Promise<ProvAgent[]> {
  const [people, drives] = await Promise.all([
    db.select().from(operators).orderBy(operators.id),
    db.select().from(stations).orderBy(stations.id),
  ]);
  return [
    { id: PROGRAM, name: `Frail Spindle ${PROGRAM_VERSION}`, type: 'program' },
    ...people.map(({ id, name }) => ({ id: `operator-${id}`, name, type: 'person' as const })),
    ...drives.map(({ id, model, serial }) => ({
      ...{ id: `station-${id}`, type: 'device' as const },
      name: [model, serial].filter(Boolean).join(', '),
    })),
  ];
}

const MEDIA_AT_ONCE = 1000;

/** Media that the entries are of, by number. */
async function* mediaMeant(db: Database, condition: SQL | undefined) {
  const meant = db.select({ id: ledger.mediumId }).from(ledger).where(condition);
  const rows = await db
    .select({ id: media.id })
    .from(media)
    .where(inArray(media.id, meant))
    .orderBy(media.id);
  for (let i = 0; i < rows.length; i += MEDIA_AT_ONCE) {
    const ids = rows.slice(i, i + MEDIA_AT_ONCE).map(({ id }) => id);
    yield* await db
      .select({ id: media.id, code: media.code, title: media.title })
      .from(media)
      .where(inArray(media.id, ids))
      .orderBy(media.id);
  }
}

async function houseOf(db: Database): Promise<string> {
  const [house] = await db.select().from(houses);
  return `urn:uuid:${house!.id}`;
}

const PREMIS_TYPES = { person: 'person', program: 'software', device: 'hardware' } as const;

async function* premisParts(db: Database, condition: SQL | undefined): AsyncGenerator<string> {
  yield PREMIS_OPENING;
  // What is of no medium is of the house.
  const house = await houseOf(db);
  yield premisEntity({ code: house, title: '', rights: null });
  for await (const { code, title } of mediaMeant(db, condition))
    yield premisEntity({ code, title, rights: null });
  for await (const entry of eachEntry(db, condition)) {
    const { id, at, kind, what: detail, said, code } = entry;
    const type = eventType(kind);
    const outcome = eventOutcome(kind, said.code);
    const event = { id: `ledger-${id}`, at, type, detail, outcome, agents: agentsOf(entry) };
    yield premisEvent(event, code ?? house);
  }
  for (const { id, name, type } of await everyAgent(db))
    yield premisAgent({ id, name, type: PREMIS_TYPES[type] });
  yield PREMIS_CLOSING;
}

async function* provParts(db: Database, condition: SQL | undefined): AsyncGenerator<string> {
  yield* provJson({
    house: `${await houseOf(db)}#`,
    agents: await everyAgent(db),
    entities: async function* () {
      for await (const { id, code, title } of mediaMeant(db, condition))
        yield { id: `medium-${id}`, label: `${code}, ${title}` };
    },
    activities: async function* () {
      for await (const entry of eachEntry(db, condition)) {
        const { id, at, kind, what: label, mediumId } = entry;
        const entity = mediumId === null ? null : `medium-${mediumId}`;
        yield { ...{ id: `ledger-${id}`, at, kind, label, entity }, agents: agentsOf(entry) };
      }
    },
  });
}

async function* encoded(parts: AsyncGenerator<string>): AsyncGenerator<Uint8Array> {
  const encoder = new TextEncoder();
  for await (const part of parts) yield encoder.encode(part);
}

/** What is written meanwhile is not of it: some formats go through the entries more than once. */
async function untilNow(db: Database, condition: SQL | undefined): Promise<SQL | undefined> {
  const [newest] = await db.select({ id: max(ledger.id) }).from(ledger);
  return and(condition, lte(ledger.id, newest?.id ?? 0));
}

export async function ledgerExport(
  db: Database,
  { as, ...question }: ExportQuestion,
): Promise<Response> {
  const condition = await untilNow(db, await meantBy(db, question));
  switch (as) {
    case 'csv':
      return tableDownload('ledger', COLUMNS, tableRows(db, condition), false);
    case 'json':
      return download(
        encoded(jsonLines(db, condition)),
        ...(['ledger.jsonl', null, 'application/x-ndjson'] as const),
      );
    case 'premis':
      return download(
        encoded(premisParts(db, condition)),
        ...(['ledger-premis.xml', null, 'application/xml'] as const),
      );
    case 'prov':
      return download(
        encoded(provParts(db, condition)),
        ...(['ledger-prov.json', null, 'application/json'] as const),
      );
  }
}
