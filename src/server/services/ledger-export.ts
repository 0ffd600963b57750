/** The whole ledger as a file: CSV, or lines of JSON; streamed, oldest first. */
import { csvRow } from '@/core/csv';
import type { Database } from '../db/database';
import { wholeLedger } from './ledger';

const HEADINGS = ['number', 'at', 'who', 'kind', 'medium', 'station', 'sitting', 'what'] as const;

export function ledgerExport(db: Database, asJson: boolean): Response {
  const rows = wholeLedger(db);
  const encoder = new TextEncoder();
  const stream = new ReadableStream<Uint8Array>({
    start(controller) {
      if (!asJson) controller.enqueue(encoder.encode(csvRow(HEADINGS)));
    },
    async pull(controller) {
      const { done, value } = await rows.next();
      if (done) return controller.close();
      const { id, at, who, kind, code, stationId, sittingId, what } = value;
      const cells = [id, at.toISOString(), who, kind, code, stationId, sittingId, what];
      controller.enqueue(encoder.encode(asJson ? `${JSON.stringify(Object.fromEntries(HEADINGS.map((name, i) => [name, cells[i]])))}\n` : csvRow(cells)));
    },
    cancel: () => rows.return(undefined).then(() => undefined),
  });
  return new Response(stream, { headers: { 'content-type': asJson ? 'application/x-ndjson' : 'text/csv; charset=utf-8', 'cache-control': 'no-store', 'x-content-type-options': 'nosniff', 'content-disposition': `attachment; filename="ledger.${asJson ? 'jsonl' : 'csv'}"` } });
}
