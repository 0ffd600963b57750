/** The part of a file that a reader asks for (RFC 9110, 14.1.2): one range a request. */
interface AskedRange {
  start: number;
  end: number;
}

/**
 * The range that a header asks for of `size` bytes; null for the whole, `unsatisfiable` where
 * nothing of it is there.
 */
export function rangeOf(
  header: string | null | undefined,
  size: number,
): AskedRange | null | 'unsatisfiable' {
  const [, first = '', last = ''] = /^bytes=(\d*)-(\d*)$/.exec(header?.trim() ?? '') ?? [];
  if (first === '' && last === '') return null;
  if (first === '') {
    const length = Math.min(size, Number(last));
    return length > 0 ? { start: size - length, end: size } : 'unsatisfiable';
  }
  const start = Number(first);
  const end = last === '' ? size : Math.min(size, Number(last) + 1);
  if (last !== '' && Number(last) < start) return null;
  return start < size ? { start, end } : 'unsatisfiable';
}
