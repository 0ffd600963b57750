/**
 * Bytes as hexadecimal and as letters, with what lies where drawn over them: fields underlined,
 * doubt hatched, the found raised.
 */
import type { ReactNode } from 'react';

export type ByteMark = 'field' | 'field-odd' | 'doubt' | 'found' | 'cursor';
export interface MarkedRange {
  offset: number;
  length: number;
  mark: ByteMark;
  name?: string;
}

const MARKS: Record<ByteMark, string> = {
  field: 'border-b-2 border-verdigris',
  'field-odd': 'border-b-2 border-ink-3',
  doubt:
    'text-[var(--grade-doubtful)] ' +
    'bg-[repeating-linear-gradient(135deg,transparent_0_3px,var(--sunk)_3px_5px)]',
  found: 'bg-oxide-wash font-[650]',
  cursor: 'outline-2 outline-oxide',
};

const letter = (byte: number) => (byte >= 0x20 && byte < 0x7f ? String.fromCharCode(byte) : '·');
const hexOf = (byte: number) => byte.toString(16).toUpperCase().padStart(2, '0');

export const hexPlace = (offset: number) => `${offset.toString(16).toUpperCase()}h`;

/** Runs of neighbours under the same marks, so that a row is a few elements and not sixteen. */
function runs(
  bytes: Uint8Array,
  from: number,
  start: number,
  end: number,
  marks: readonly MarkedRange[],
): { from: number; to: number; over: MarkedRange[] }[] {
  const out: { from: number; to: number; over: MarkedRange[] }[] = [];
  for (let at = start; at < end; at++) {
    const over = marks.filter(
      ({ offset, length }) => from + at >= offset && from + at < offset + length,
    );
    const last = out[out.length - 1];
    if (last && last.over.length === over.length && last.over.every((mark, i) => mark === over[i]))
      last.to = at + 1;
    else out.push({ from: at, to: at + 1, over });
  }
  return out;
}

interface HexRowsProps {
  bytes: Uint8Array;
  from?: number;
  perRow: 8 | 16;
  marks?: readonly MarkedRange[];
  onPick?: (offset: number) => void;
}

/** `from` is the place of the first byte; `marks` are places in the same count. */
export function HexRows({ bytes, from = 0, perRow, marks = [], onPick }: HexRowsProps) {
  const digits = Math.max(4, (from + bytes.length).toString(16).length);
  const rows: ReactNode[] = [];
  for (let start = 0; start < bytes.length; start += perRow) {
    const end = Math.min(bytes.length, start + perRow);
    const here = marks.filter(
      ({ offset, length }) => offset < from + end && offset + length > from + start,
    );
    const parts = runs(bytes, from, start, end, here);
    rows.push(
      <HexRow
        key={start}
        start={start}
        onPick={onPick}
        from={from}
        digits={digits}
        parts={parts}
        bytes={bytes}
        perRow={perRow}
        end={end}
      />,
    );
  }
  return <>{rows}</>;
}

interface HexRowProps {
  start: number;
  onPick: ((offset: number) => void) | undefined;
  from: number;
  digits: number;
  parts: { from: number; to: number; over: MarkedRange[] }[];
  bytes: Uint8Array<ArrayBufferLike>;
  perRow: number;
  end: number;
}

function HexRow({
  start,
  onPick,
  from,
  digits,
  parts,
  bytes,
  perRow,
  end,
}: HexRowProps): ReactNode {
  return (
    <div translate="no" onClick={onPick && (() => onPick(from + start))}>
      <span className="text-ink-2">
        {(from + start).toString(16).toUpperCase().padStart(digits, '0')}
      </span>
      {'  '}
      {parts.map(({ from: a, to: b, over }) => {
        const text = Array.from(bytes.subarray(a, b), hexOf).join(' ');
        const name = over
          .map((mark) => mark.name)
          .filter(Boolean)
          .join('; ');
        return over.length === 0 ? (
          `${text} `
        ) : (
          <span key={a}>
            <span
              className={over.map(({ mark }) => MARKS[mark]).join(' ')}
              title={name || undefined}
            >
              {text}
            </span>{' '}
          </span>
        );
      })}
      {' '.repeat((perRow - (end - start)) * 3 + 1)}
      {parts.map(({ from: a, to: b, over }) => {
        const text = Array.from(bytes.subarray(a, b), letter).join('');
        return over.length === 0 ? (
          text
        ) : (
          <span key={`t${a}`} className={over.map(({ mark }) => MARKS[mark]).join(' ')}>
            {text}
          </span>
        );
      })}
    </div>
  );
}
