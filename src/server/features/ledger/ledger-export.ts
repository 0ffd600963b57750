/** The whole ledger as a file, oldest first. */
import type { Database } from '@/server/platform/db/database';
import { tableDownload } from '@/server/platform/http/table-download';
import { wholeLedger } from './ledger';

const COLUMNS = ['number', 'at', 'who', 'kind', 'medium', 'station', 'sitting', 'what'] as const;

async function* rowsOf(db: Database) {
  for await (const { id, at, who, kind, code, stationId, sittingId, what } of wholeLedger(db))
    yield { number: id, at, who, kind, medium: code, station: stationId, sitting: sittingId, what };
}

export const ledgerExport = (db: Database, asJson: boolean): Response =>
  tableDownload('ledger', COLUMNS, rowsOf(db), asJson);
