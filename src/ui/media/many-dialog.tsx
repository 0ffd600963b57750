'use client';
/**
 * Registers many at once: a small grid that takes a paste from a spreadsheet and a CSV file. What
 * was typed is kept in this browser until it is stored.
 */
import { useMutation, UseMutationResult, useQueries } from '@tanstack/react-query';
import {
  Dispatch,
  RefObject,
  SetStateAction,
  useEffect,
  useRef,
  useState,
  type ClipboardEvent,
  type KeyboardEvent,
} from 'react';
import { NewMedium } from '@/server/features/media/new-medium';
import { readNumbering } from '@/core/medium-code';
import type { NextCode } from '@/server/features/media/codes';
import { post } from '../data/api';
import { nextCodeQuery } from '../data/queries';
import { Dialog } from '../parts/dialog';
import { ErrorAlert } from '../parts/page';
import {
  COLUMN_NAMES,
  SHEET_COLUMNS,
  cellsOf,
  emptyRow,
  isEmpty,
  mediaOf,
  rowsOf,
  type SheetColumn,
  type SheetRow,
} from './sheet';
import { say } from '@/messages';

const KEPT_AS = 'spindle-register-draft';
const SPARE_ROWS = 3;

function keptRows(): SheetRow[] {
  try {
    const rows = JSON.parse(localStorage.getItem(KEPT_AS) ?? '[]') as Partial<SheetRow>[];
    return rows.map((row) => ({ ...emptyRow(), ...row }));
  } catch {
    return [];
  }
}

/** Always a few empty rows at the end. */
const withSpare = (rows: readonly SheetRow[]) => {
  const used = rows.findLastIndex((row) => !isEmpty(row)) + 1;
  return [...rows.slice(0, used), ...Array.from({ length: SPARE_ROWS }, emptyRow)];
};

export function ManyDialog({
  open,
  onOpenChange,
  nextCode,
}: {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  nextCode: string;
}) {
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      wide
      title={say.media.registerMany}
      about={say.media.typeOrPasteRows}
    >
      {open && <Grid nextCode={nextCode} onDone={() => onOpenChange(false)} />}
    </Dialog>
  );
}

/** What of a row needs another look; null where nothing does. */
function whatIsWrong(row: unknown): string | null {
  const issue = NewMedium.safeParse(row).error?.issues[0];
  if (!issue) return null;
  return issue.code === 'invalid_value' ? say.media.theFormIs3 : issue.message;
}

/** A pause in typing; what is typed until then is asked for by nobody. */
const TYPING_MS = 300;

/** A text that has not changed for so long. */
function useSettled(text: string, ms: number): string {
  const [settled, setSettled] = useState(text);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(text), ms);
    return () => clearTimeout(timer);
  }, [text, ms]);
  return settled;
}

/** Where codes go on in each lot of these rows; as in all of them while a lot's is not known. */
function useNextCodes(rows: readonly SheetRow[], nextCode: string) {
  const typed = [...new Set(rows.map(({ lot }) => lot.trim()))].filter(Boolean).join('\n');
  const settled = useSettled(typed, TYPING_MS);
  const named = settled === '' ? [] : settled.split('\n');
  const answers = useQueries({ queries: named.map(nextCodeQuery) });
  const ofAll: NextCode = readNumbering(nextCode) ?? {
    numbering: { before: nextCode, digits: 1, after: '' },
    number: 1,
  };
  return (lot: string): NextCode => answers[named.indexOf(lot)]?.data ?? ofAll;
}

function Grid({ nextCode, onDone }: { nextCode: string; onDone: () => void }) {
  const [rows, setRows] = useState<SheetRow[]>(() => withSpare(keptRows()));
  const picker = useRef<HTMLInputElement>(null);
  useEffect(
    () => localStorage.setItem(KEPT_AS, JSON.stringify(rows.filter((row) => !isEmpty(row)))),
    [rows],
  );
  const media = mediaOf(rows, useNextCodes(rows, nextCode));
  const filled = new Map(rows.filter((row) => !isEmpty(row)).map((row, nth) => [row, nth]));
  const errors = media.map(whatIsWrong);
  const wrong = errors.filter(Boolean).length;
  const store = useMutation({
    mutationFn: () => post<{ registered: number }>('/api/media', { media }),
    onSuccess: () => {
      localStorage.removeItem(KEPT_AS);
      onDone();
    },
  });
  const editing = gridEditing(setRows);
  return (
    <>
      <div className="max-h-[46vh] overflow-auto border border-line">
        <table className="w-full border-collapse text-[13px]">
          <GridHead />
          <tbody>
            {rows.map((row, at) => {
              const nth = filled.get(row);
              return (
                <GridRow
                  key={at}
                  row={row}
                  at={at}
                  error={nth === undefined ? null : errors[nth]!}
                  code={nth === undefined ? undefined : media[nth]!.code}
                  editing={editing}
                />
              );
            })}
          </tbody>
        </table>
      </div>
      <input
        ref={picker}
        type="file"
        accept=".csv,.tsv,.txt,text/csv"
        hidden
        data-testid="register-file"
        onChange={async (event) => {
          const [file] = event.target.files ?? [];
          event.target.value = '';
          if (file)
            editing.insert(
              rows.findLastIndex((row) => !isEmpty(row)) + 1,
              'code',
              cellsOf(await file.text()),
            );
        }}
      />
      <GridFoot
        media={media}
        wrong={wrong}
        errors={errors}
        picker={picker}
        setRows={setRows}
        store={store}
      />
      <ErrorAlert>{store.error?.message}</ErrorAlert>
    </>
  );
}

function gridEditing(setRows: Dispatch<SetStateAction<SheetRow[]>>) {
  const put = (at: number, column: SheetColumn, text: string) =>
    setRows((was) => withSpare(was.map((row, i) => (i === at ? { ...row, [column]: text } : row))));
  const insert = (at: number, start: SheetColumn, cells: string[][]) =>
    setRows((was) => {
      const pasted = rowsOf(cells, start);
      const next = [...was];
      for (const [i, row] of pasted.entries()) {
        const before = next[at + i] ?? emptyRow();
        next[at + i] = Object.fromEntries(
          SHEET_COLUMNS.map((column) => [column, row[column] || before[column]]),
        ) as SheetRow;
      }
      return withSpare(next);
    });
  const paste = (event: ClipboardEvent, at: number, column: SheetColumn) => {
    const text = event.clipboardData.getData('text/plain');
    if (!/[\t\n]/.test(text.trim())) return;
    event.preventDefault();
    insert(at, column, cellsOf(text));
  };
  const move = (event: KeyboardEvent, at: number, column: number) => {
    const by = ({ ArrowDown: 1, Enter: 1, ArrowUp: -1 } as Record<string, number>)[event.key];
    if (!by) return;
    event.preventDefault();
    event.currentTarget
      .closest('table')
      ?.querySelector<HTMLInputElement>(`[data-cell="${at + by}-${column}"]`)
      ?.focus();
  };
  return { insert, put, paste, move };
}

function GridHead() {
  return (
    <thead>
      <tr className="sticky top-0 bg-sheet">
        {SHEET_COLUMNS.map((column) => (
          <th key={column} className="border-b border-line px-2 py-1">
            {COLUMN_NAMES[column]}
          </th>
        ))}
      </tr>
    </thead>
  );
}

interface GridRowProps {
  row: SheetRow;
  at: number;
  /** What needs another look. */
  error: string | null;
  /** The code that it gets where none is typed. */
  code: string | undefined;
  editing: ReturnType<typeof gridEditing>;
}

function GridRow({ row, at, error, code, editing }: GridRowProps) {
  return (
    <tr className="border-b border-line" title={error ?? undefined}>
      {SHEET_COLUMNS.map((column, i) => (
        <td key={column} className={`border-r border-line ${error ? 'bg-oxide-wash' : ''}`}>
          <input
            value={row[column]}
            onChange={(event) => editing.put(at, column, event.target.value)}
            onPaste={(event) => editing.paste(event, at, column)}
            onKeyDown={(event) => editing.move(event, at, i)}
            data-cell={`${at}-${i}`}
            aria-label={say.media.row({ columnName: COLUMN_NAMES[column], at: at + 1 })}
            aria-invalid={Boolean(error)}
            placeholder={column === 'code' ? code : undefined}
            autoComplete="off"
            className="w-full bg-transparent px-2 py-1 outline-offset-[-2px]"
          />
        </td>
      ))}
    </tr>
  );
}

interface GridFootProps {
  media: ReturnType<typeof mediaOf>;
  wrong: number;
  errors: (string | null)[];
  picker: RefObject<HTMLInputElement | null>;
  setRows: Dispatch<SetStateAction<SheetRow[]>>;
  store: UseMutationResult<{ registered: number }, Error, void, unknown>;
}

function GridFoot({ media, wrong, errors, picker, setRows, store }: GridFootProps) {
  return (
    <div className="mt-3 flex items-center gap-3">
      <GridState media={media} wrong={wrong} errors={errors} />
      <button
        type="button"
        onClick={() => picker.current?.click()}
        className="min-h-9 rounded-sm border border-line bg-sheet px-3 font-[650]"
      >
        {say.media.fromACsvFile}
      </button>
      <button
        type="button"
        onClick={() => setRows(withSpare([]))}
        className="min-h-9 rounded-sm border border-line bg-sheet px-3 font-[650]"
      >
        {say.media.emptyTheGrid}
      </button>
      <button
        type="button"
        disabled={media.length === 0 || wrong > 0 || store.isPending}
        onClick={() => store.mutate()}
        className="min-h-9 rounded-sm border border-oxide bg-oxide px-3 font-[650] text-oxide-ink disabled:opacity-45"
      >
        {say.media.register} {media.length || ''}
      </button>
    </div>
  );
}

interface GridStateProps {
  media: GridFootProps['media'];
  wrong: number;
  errors: (string | null)[];
}

function GridState({ media, wrong, errors }: GridStateProps) {
  return (
    <p aria-live="polite" className="flex-1 text-[13px] text-ink-2">
      {media.length === 0
        ? say.media.nothingYet
        : wrong > 0
          ? say.media.ofRowsNeedAnother({
              wrong,
              media: media.length,
              boolean: errors.find(Boolean),
            })
          : say.media.mediaToKeptIn({
              media: media.length,
              code: media[0]!.code,
              code2: media[media.length - 1]!.code,
            })}
    </p>
  );
}
