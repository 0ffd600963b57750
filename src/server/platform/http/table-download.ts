/** Rows as a file to save, streamed: CSV, or lines of JSON. */
import { csvRow } from '@/core/csv';

type Cell = string | number | boolean | Date | null;
type TableRow<C extends string> = Record<C, Cell>;

const asText = (cell: Cell) =>
  cell instanceof Date
    ? cell.toISOString()
    : typeof cell === 'boolean'
      ? cell
        ? 'yes'
        : ''
      : cell;

const tableHeaders = (name: string, asJson: boolean) => ({
  'content-type': asJson ? 'application/x-ndjson' : 'text/csv; charset=utf-8',
  'cache-control': 'no-store',
  'x-content-type-options': 'nosniff',
  'content-disposition': `attachment; filename="${name}.${asJson ? 'jsonl' : 'csv'}"`,
});

export function tableDownload<C extends string>(
  name: string,
  columns: readonly C[],
  rows: AsyncGenerator<TableRow<C>>,
  asJson: boolean,
): Response {
  const encoder = new TextEncoder();
  const stream = new ReadableStream<Uint8Array>({
    start(controller) {
      if (!asJson) controller.enqueue(encoder.encode(csvRow(columns)));
    },
    async pull(controller) {
      const { done, value } = await rows.next();
      if (done) return controller.close();
      controller.enqueue(
        encoder.encode(
          asJson
            ? `${JSON.stringify(Object.fromEntries(columns.map((column) => [column, value[column]])))}\n`
            : csvRow(columns.map((column) => asText(value[column]))),
        ),
      );
    },
    cancel: () => rows.return(undefined).then(() => undefined),
  });
  return new Response(stream, { headers: tableHeaders(name, asJson) });
}
