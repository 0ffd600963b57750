/**
 * Tokenised BASIC listed as text, for the families whose disks are read here: a line is a link to
 * the next, a number,
 * keywords as single bytes and the rest as typed. Where the links do not hold together nothing is
 * made up.
 */
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
  trouble: string | null;
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

/**
 * Lines from `start` on, each tied to the next by its link. Null where not even the first holds.
 */
function listLinked(
  bytes: Uint8Array,
  start: number,
  { littleEndian, code, char, hides, spaced }: Dialect,
): Listing | null {
  const word = (at: number) =>
    littleEndian ? bytes[at]! | (bytes[at + 1]! << 8) : (bytes[at]! << 8) | bytes[at + 1]!;
  const lines: string[] = [];
  let base: number | null = null;
  let at = start;
  let trouble: string | null = null;
  while (at + 4 < bytes.length && word(at) !== 0) {
    if (lines.length >= MAX_LINES) {
      trouble = `Only the first ${MAX_LINES.toLocaleString('en')} lines are listed.`;
      break;
    }
    const number = word(at + 2);
    let text = '';
    let i = at + 4;
    let mode: 'code' | 'string' | 'data' | 'rest' = 'code';
    while (i < bytes.length && bytes[i] !== 0 && i - at < MAX_LINE_BYTES) {
      const byte = bytes[i]!;
      if (
        mode === 'rest' ||
        mode === 'string' ||
        (mode === 'data' && byte !== 0x3a && byte !== 0x22) ||
        (byte >= 0x20 && byte < 0x80)
      ) {
        if (byte === 0x22 && mode !== 'rest') mode = mode === 'string' ? 'code' : 'string';
        else if (byte === 0x3a && mode === 'data') mode = 'code';
        if (byte !== 0x3a || mode !== 'code' || !hides?.(bytes, i)) text += char(byte);
        i++;
        continue;
      }
      const token = code(bytes, i);
      text += spaced && /[A-Z]/.test(token.text) ? ` ${token.text} ` : token.text;
      if (token.opens) mode = token.opens;
      i = token.next;
    }
    const next = i + 1;
    base ??= word(at) - next;
    if (i >= bytes.length || bytes[i] !== 0 || word(at) - next !== base) {
      // The link says where the line ends: it is believed no more than the zero at its end.
      if (lines.length === 0) return null;
      trouble = `Line ${number} does not end where its link says; what follows it is not listed.`;
      break;
    }
    lines.push(`${number} ${(spaced ? text.replace(/ {2,}/g, ' ') : text).trim()}`);
    at = next;
  }
  if (lines.length === 0) return null;
  return {
    text: lines.join('\n'),
    lines: lines.length,
    after: trouble ? 0 : Math.max(0, bytes.length - at - 2),
    trouble,
  };
}

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
    const rest = bytes.length - at - 1;
    const int = rest >= 2 ? bytes[at + 1]! | (bytes[at + 2]! << 8) : 0;
    if (byte >= 0x11 && byte <= 0x1b) return { text: String(byte - 0x11), next: at + 1 };
    if (byte === 0x0f && rest >= 1) return { text: String(bytes[at + 1]), next: at + 2 };
    if (rest >= 2) {
      if (byte === 0x0b) return { text: `&O${int.toString(8)}`, next: at + 3 };
      if (byte === 0x0c) return { text: `&H${int.toString(16).toUpperCase()}`, next: at + 3 };
      if (byte === 0x0e) return { text: String(int), next: at + 3 };
      if (byte === 0x1c) return { text: String((int << 16) >> 16), next: at + 3 };
    }
    if (byte === 0x1d && rest >= 4)
      return { text: singleText(bytes.subarray(at + 1, at + 5)), next: at + 5 };
    if (byte === 0x1f && rest >= 8)
      return { text: doubleText(bytes.subarray(at + 1, at + 9)), next: at + 9 };
    const token = fatCode(bytes, at);
    // WHILE is kept with a plus sign behind it.
    return token.text === 'WHILE' && bytes[token.next] === 0xe9
      ? { ...token, next: token.next + 1 }
      : token;
  },
};

/** Lines by length: number, codes, 01h. Numbers stand behind a digit with its top bit set. */
function listInteger(bytes: Uint8Array): Listing | null {
  const lines: string[] = [];
  let at = 0;
  let trouble: string | null = null;
  while (at < bytes.length && lines.length < MAX_LINES) {
    const length = bytes[at]!;
    if (length < 4 || at + length > bytes.length || bytes[at + length - 1] !== 0x01) {
      if (lines.length === 0) return null;
      if (length !== 0)
        trouble =
          `Behind line ${lines[lines.length - 1]!.split(' ')[0]} no line begins; what ` +
          'follows is not listed.';
      break;
    }
    const number = bytes[at + 1]! | (bytes[at + 2]! << 8);
    const end = at + length - 1;
    let text = '';
    for (let i = at + 3; i < end;) {
      const byte = bytes[i]!;
      if (byte >= 0xb0 && byte <= 0xb9 && i + 2 < end) {
        text += String(bytes[i + 1]! | (bytes[i + 2]! << 8));
        i += 3;
      } else if (byte >= 0x80) {
        // A name goes on over digits, which would begin a number elsewhere.
        while (i < end && bytes[i]! >= 0x80) text += seven(bytes[i++]!);
      } else {
        const word = INTEGER_WORDS.get(byte) ?? unknown(byte);
        text += /[A-Z]/.test(word) ? ` ${word} ` : word;
        i++;
        if (byte === 0x28 || byte === 0x5d)
          while (i < end && bytes[i]! >= 0x80) text += seven(bytes[i++]!);
      }
    }
    lines.push(`${number} ${text.replace(/ {2,}/g, ' ').trim()}`);
    at += length;
  }
  return lines.length === 0
    ? null
    : {
        text: lines.join('\n'),
        lines: lines.length,
        after: Math.max(0, bytes.length - at),
        trouble,
      };
}

/**
 * The program as text; null where these bytes are none that its system would list. `type` is in
 * that system's own terms.
 */
export function listBasic(
  bytes: Uint8Array,
  filesystem: string,
  type: string | null | undefined,
): Listing | null {
  if (/^d(64|71|81)$/.test(filesystem))
    return type === 'PRG' && bytes.length > 6
      ? listLinked(bytes, 2, d64(bytes[0]! | (bytes[1]! << 8)))
      : null;
  if (filesystem === 'catalogue16')
    return type === 'A'
      ? listLinked(bytes, 0, CATALOGUE)
      : type === 'I'
        ? listInteger(bytes)
        : null;
  if (filesystem === 'prodos')
    return type === 'FC'
      ? listLinked(bytes, 0, CATALOGUE)
      : type === 'FA'
        ? listInteger(bytes)
        : null;
  if (filesystem === 'granule')
    return type === '0' && bytes[0] === 0xff ? listLinked(bytes, 3, GRANULE) : null;
  // An end mark is no part of it.
  if (/^fat/.test(filesystem))
    return bytes[0] === 0xff
      ? listLinked(bytes[bytes.length - 1] === 0x1a ? bytes.subarray(0, -1) : bytes, 1, FAT)
      : null;
  return null;
}
