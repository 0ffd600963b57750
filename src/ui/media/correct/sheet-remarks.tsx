/** What of a table can't be taken, cell by cell. */
import { say } from '@/messages';
import type { ReadSheet } from './sheet-corrections';

const MOST_TOLD = 12;

export function SheetRemarks({ sheet }: { sheet: ReadSheet | 'none' }) {
  if (sheet === 'none')
    return (
      <p role="alert" className="mt-3 font-[650] text-oxide">
        {say.correct.isNoTable}
      </p>
    );
  const { odd, unknown, rows } = sheet;
  return (
    <div className="mt-3 text-[13px]">
      {unknown.length > 0 && (
        <p className="text-ink-2">{say.correct.columnsLeft({ columns: unknown.join(', ') })}</p>
      )}
      {rows.length === 0 && odd.length === 0 && <p role="alert">{say.correct.tableIsEmpty}</p>}
      {odd.length > 0 && (
        <div role="alert">
          <p className="font-[650] text-oxide">{say.correct.cellsAreOdd({ count: odd.length })}</p>
          <ul>
            {odd.slice(0, MOST_TOLD).map(({ row, column, text }) => (
              <li key={`${row} ${column}`}>{say.correct.oddCell({ row, column, text })}</li>
            ))}
          </ul>
        </div>
      )}
    </div>
  );
}
