/**
 * Tokenised BASIC listed as text, for the families whose disks are read here: a line is a link to
 * the next, a number,
 * keywords as single bytes and the rest as typed. Where the links do not hold together nothing is
 * made up.
 */
import { said, type Said } from '../said';
import { charOf } from '../volume/d64/names';
import { decode437 } from '../volume/fat/names';
import {
  CATALOGUE_WORDS,
  D64_LATER_CE,
  D64_LATER_FE,
  D64_LATER_WORDS,
  D64_WORDS,
  FAT_FD,
  FAT_FE,
  FAT_FF,
  FAT_WORDS,
  GRANULE_FUNCTIONS,
  GRANULE_WORDS,
  INTEGER_WORDS,
} from './keywords';
import { doubleText, singleText } from './numbers';

interface Listing {
  text: string;
  lines: number;
  /** Bytes behind the program's end: machine code or data that belongs to it. */
  after: number;
  /** What did not hold together, in a sentence; null where all did. */
  trouble: Said | null;
}

/** Lines listed at most. */
const MAX_LINES = 20_000;
/** A line of BASIC is at most 255 bytes; longer ones were made by programs. */
const MAX_LINE_BYTES = 4096;

interface Dialect {
  littleEndian: boolean;
  /**
   * The text of one code at `at`, where the next begins, and what it leaves open: a remark, or
   * data.
   */
  code(bytes: Uint8Array, at: number): { text: string; next: number; opens?: 'rest' | 'data' };
  char(byte: number): string;
  /** A colon that the machine keeps before a remark's `'` and before ELSE, and does not list. */
  hides?(bytes: Uint8Array, colon: number): boolean;
  /** Its machine lists keywords with a space on either side. */
  spaced: boolean;
}

const unknown = (byte: number) => `‹${byte.toString(16).toUpperCase().padStart(2, '0')}›`;
const seven = (byte: number) =>
  (byte & 0x7f) >= 0x20 && (byte & 0x7f) < 0x7f ? String.fromCharCode(byte & 0x7f) : unknown(byte);

/** Keywords that stand as one byte, or as two behind a first one. */
function byWords(
  words: ReadonlyMap<number, string>,
  behind: ReadonlyMap<number, ReadonlyMap<number, string>> = new Map(),
): Dialect['code'] {
  return (bytes, at) => {
    const second = behind.get(bytes[at]!);
    const word = second ? second.get(bytes[at + 1]!) : words.get(bytes[at]!);
    const next = at + (second ? 2 : 1);
    if (word === undefined) return { text: unknown(bytes[at]!), next: at + 1 };
    return {
      text: word,
      next,
      opens: word === 'REM' || word === "'" ? 'rest' : word === 'DATA' ? 'data' : undefined,
    };
  };
}

/** What the rest of a line is, as far as a byte before it says so. */
type Mode = 'code' | 'string' | 'data' | 'rest';

const QUOTE = 0x22;
const COLON = 0x3a;

/** Whether a byte stands for itself and not for a keyword. */
function isAsTyped(byte: number, mode: Mode): boolean {
  if (mode === 'rest' || mode === 'string') return true;
  if (mode === 'data' && byte !== COLON && byte !== QUOTE) return true;
  return byte >= 0x20 && byte < 0x80;
}

function modeAfter(byte: number, mode: Mode): Mode {
  if (byte === QUOTE && mode !== 'rest') return mode === 'string' ? 'code' : 'string';
  return byte === COLON && mode === 'data' ? 'code' : mode;
}

/** The text of a line from `at` to its zero, and where that stands; `most` is its longest end. */
function lineAt(
  bytes: Uint8Array,
  at: number,
  most: number,
  { code, char, hides, spaced }: Dialect,
): { text: string; end: number } {
  let text = '';
  let end = at;
  let mode: Mode = 'code';
  while (end < bytes.length && bytes[end] !== 0 && end < most) {
    const byte = bytes[end]!;
    if (isAsTyped(byte, mode)) {
      mode = modeAfter(byte, mode);
      if (byte !== COLON || mode !== 'code' || !hides?.(bytes, end)) text += char(byte);
      end++;
      continue;
    }
    const token = code(bytes, end);
    text += spaced && /[A-Z]/.test(token.text) ? ` ${token.text} ` : token.text;
    if (token.opens) mode = token.opens;
    end = token.next;
  }
  return { text: (spaced ? text.replace(/ {2,}/g, ' ') : text).trim(), end };
}

/**
 * Lines from `start` on, each tied to the next by its link. Null where not even the first holds.
 */
function listLinked(bytes: Uint8Array, start: number, dialect: Dialect): Listing | null {
  const word = (at: number) =>
    dialect.littleEndian ? bytes[at]! | (bytes[at + 1]! << 8) : (bytes[at]! << 8) | bytes[at + 1]!;
  const lines: string[] = [];
  let base: number | null = null;
  let at = start;
  let trouble: Said | null = null;
  while (at + 4 < bytes.length && word(at) !== 0) {
    if (lines.length >= MAX_LINES) {
      trouble = said('listing.onlyTheFirst', { lines: MAX_LINES });
      break;
    }
    const number = word(at + 2);
    const { text, end } = lineAt(bytes, at + 4, at + MAX_LINE_BYTES, dialect);
    const next = end + 1;
    base ??= word(at) - next;
    // The link says where the line ends: it is believed no more than the zero at its end.
    if (end >= bytes.length || bytes[end] !== 0 || word(at) - next !== base) {
      if (lines.length === 0) return null;
      trouble = said('listing.linkLeadsElsewhere', { line: number });
      break;
    }
    lines.push(`${number} ${text}`);
    at = next;
  }
  return listingOf(lines, trouble, trouble ? 0 : bytes.length - at - 2);
}

const listingOf = (
  lines: readonly string[],
  trouble: Said | null,
  after: number,
): Listing | null =>
  lines.length === 0
    ? null
    : { text: lines.join('\n'), lines: lines.length, after: Math.max(0, after), trouble };

const D64_LATER = new Map([
  [0xce, D64_LATER_CE],
  [0xfe, D64_LATER_FE],
]);
const d64 = (load: number): Dialect => ({
  littleEndian: true,
  spaced: false,
  char: (byte) => (byte === 0xff ? 'π' : charOf(byte)),
  code: (bytes, at) =>
    bytes[at] === 0xff
      ? { text: 'π', next: at + 1 }
      : (load === 0x1c01 || load === 0x4001
          ? byWords(new Map([...D64_WORDS, ...D64_LATER_WORDS]), D64_LATER)
          : byWords(D64_WORDS))(bytes, at),
});
const CATALOGUE: Dialect = {
  littleEndian: true,
  spaced: true,
  char: seven,
  code: byWords(CATALOGUE_WORDS),
};
const GRANULE: Dialect = {
  littleEndian: false,
  spaced: false,
  char: seven,
  code: byWords(GRANULE_WORDS, new Map([[0xff, GRANULE_FUNCTIONS]])),
  hides: (bytes, at) => bytes[at + 1] === 0x83 || bytes[at + 1] === 0x84,
};
const fatCode = byWords(
  FAT_WORDS,
  new Map([
    [0xfd, FAT_FD],
    [0xfe, FAT_FE],
    [0xff, FAT_FF],
  ]),
);
/** A number as it is kept in a program, in one of eight ways; null where none begins. */
function numberAt(bytes: Uint8Array, at: number): { text: string; next: number } | null {
  const byte = bytes[at]!;
  const rest = bytes.length - at - 1;
  if (byte >= 0x11 && byte <= 0x1b) return { text: String(byte - 0x11), next: at + 1 };
  if (byte === 0x0f && rest >= 1) return { text: String(bytes[at + 1]), next: at + 2 };
  if (byte === 0x1d && rest >= 4)
    return { text: singleText(bytes.subarray(at + 1, at + 5)), next: at + 5 };
  if (byte === 0x1f && rest >= 8)
    return { text: doubleText(bytes.subarray(at + 1, at + 9)), next: at + 9 };
  if (rest < 2) return null;
  const text = integerAs(byte, bytes[at + 1]! | (bytes[at + 2]! << 8));
  return text === null ? null : { text, next: at + 3 };
}

function integerAs(kind: number, value: number): string | null {
  if (kind === 0x0b) return `&O${value.toString(8)}`;
  if (kind === 0x0c) return `&H${value.toString(16).toUpperCase()}`;
  if (kind === 0x0e) return String(value);
  return kind === 0x1c ? String((value << 16) >> 16) : null;
}

const FAT: Dialect = {
  littleEndian: true,
  spaced: false,
  char: (byte) => (byte >= 0x20 ? decode437(Uint8Array.of(byte)) : unknown(byte)),
  hides: (bytes, at) =>
    bytes[at + 1] === 0xa1 || (bytes[at + 1] === 0x8f && bytes[at + 2] === 0xd9),
  code(bytes, at) {
    const byte = bytes[at]!;
    // `'` is kept as a remark that is drawn otherwise.
    if (byte === 0x8f && bytes[at + 1] === 0xd9) return { text: "'", next: at + 2, opens: 'rest' };
    const number = numberAt(bytes, at);
    if (number) return number;
    const token = fatCode(bytes, at);
    // WHILE is kept with a plus sign behind it.
    return token.text === 'WHILE' && bytes[token.next] === 0xe9
      ? { ...token, next: token.next + 1 }
      : token;
  },
};

/** Lines by length: number, codes, 01h. Numbers stand behind a digit with its top bit set. */
function integerText(bytes: Uint8Array, from: number, end: number): string {
  let text = '';
  let i = from;
  // A name goes on over digits, which would begin a number elsewhere.
  const name = () => {
    while (i < end && bytes[i]! >= 0x80) text += seven(bytes[i++]!);
  };
  while (i < end) {
    const byte = bytes[i]!;
    if (byte >= 0xb0 && byte <= 0xb9 && i + 2 < end) {
      text += String(bytes[i + 1]! | (bytes[i + 2]! << 8));
      i += 3;
    } else if (byte >= 0x80) name();
    else {
      const word = INTEGER_WORDS.get(byte) ?? unknown(byte);
      text += /[A-Z]/.test(word) ? ` ${word} ` : word;
      i++;
      if (byte === 0x28 || byte === 0x5d) name();
    }
  }
  return text.replace(/ {2,}/g, ' ').trim();
}

function listInteger(bytes: Uint8Array): Listing | null {
  const lines: string[] = [];
  let at = 0;
  let trouble: Said | null = null;
  while (at < bytes.length && lines.length < MAX_LINES) {
    const length = bytes[at]!;
    if (length < 4 || at + length > bytes.length || bytes[at + length - 1] !== 0x01) {
      if (lines.length === 0) return null;
      if (length !== 0)
        trouble = said('listing.noLineBegins', {
          line: Number.parseInt(lines[lines.length - 1]!, 10),
        });
      break;
    }
    const number = bytes[at + 1]! | (bytes[at + 2]! << 8);
    lines.push(`${number} ${integerText(bytes, at + 3, at + length - 1)}`);
    at += length;
  }
  return listingOf(lines, trouble, bytes.length - at);
}

/**
 * The program as text; null where these bytes are none that its system would list. `type` is in
 * that system's own terms.
 */
/** How each type of file of a family is listed; what is not named there is no program. */
const LISTERS: Record<string, Record<string, (bytes: Uint8Array) => Listing | null>> = {
  catalogue16: { A: (bytes) => listLinked(bytes, 0, CATALOGUE), I: listInteger },
  prodos: { FC: (bytes) => listLinked(bytes, 0, CATALOGUE), FA: listInteger },
  granule: { 0: (bytes) => (bytes[0] === 0xff ? listLinked(bytes, 3, GRANULE) : null) },
};

function listFat(bytes: Uint8Array): Listing | null {
  if (bytes[0] !== 0xff) return null;
  // An end mark is no part of it.
  const hasMark = bytes[bytes.length - 1] === 0x1a;
  return listLinked(hasMark ? bytes.subarray(0, -1) : bytes, 1, FAT);
}

export function listBasic(
  bytes: Uint8Array,
  filesystem: string,
  type: string | null | undefined,
): Listing | null {
  if (/^d(64|71|81)$/.test(filesystem))
    return type === 'PRG' && bytes.length > 6
      ? listLinked(bytes, 2, d64(bytes[0]! | (bytes[1]! << 8)))
      : null;
  if (/^fat/.test(filesystem)) return listFat(bytes);
  return LISTERS[filesystem]?.[type ?? '']?.(bytes) ?? null;
}
