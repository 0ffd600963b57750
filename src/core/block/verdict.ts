/**
 * What an empty-looking device is: never written, wiped, or formatted over something. Every block
 * is looked at: how it is
 * filled, whether it looks like a boot sector or a directory, and whether a file begins there by
 * its signature.
 */
import type { ByteSource } from '../bits/byte-source';
import { said, type Said } from '@/core/said';

export type DeviceVerdict = 'never-written' | 'wiped' | 'written-over' | 'in-use' | 'unreadable';

export interface Trace {
  kind: 'boot' | 'directory' | 'file' | 'text';
  /** Of the block, in bytes. */
  offset: number;
  what: Said;
}

export interface DeviceFinding {
  verdict: DeviceVerdict;
  /** One sentence. */
  why: Said;
  blocks: number;
  /** Blocks of one byte value only, by that value; the commonest first. */
  fills: { value: number; blocks: number }[];
  /** Blocks that hold something else, outside what is in use. */
  traced: number;
  traces: Trace[];
  /** Traces beyond those that are listed, by kind. */
  more: Record<Trace['kind'], number>;
}

const BLOCK = 512;
const CHUNK = 1 << 20;
const MAX_TRACES = 60;
/** What formatting of a new disk leaves in its blocks. */
const FACTORY_FILLS = [0xf6, 0xe5, 0x6c, 0xda];

/** First bytes of files that many systems share, and what they are (published formats). */
const SIGNATURES: readonly [bytes: readonly number[], name: Said][] = [
  [[0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a], said('block.pngPicture')],
  [[0xff, 0xd8, 0xff], said('block.jpegPicture')],
  [[0x47, 0x49, 0x46, 0x38], said('block.gifPicture')],
  [[0x25, 0x50, 0x44, 0x46, 0x2d], said('block.pdfDocument')],
  [[0x50, 0x4b, 0x03, 0x04], said('block.zipArchive')],
  [[0x1f, 0x8b, 0x08], said('block.gzipFile')],
  [[0x52, 0x49, 0x46, 0x46], said('block.riffFile')],
  [[0x46, 0x4f, 0x52, 0x4d], said('block.iffFile')],
  [[0x4d, 0x54, 0x68, 0x64], said('block.midiFile')],
  [[0x4d, 0x5a], said('block.executableWithAnMz')],
  [[0x7b, 0x5c, 0x72, 0x74, 0x66], said('block.rtfText')],
  [[0xd0, 0xcf, 0x11, 0xe0], said('block.compoundDocument')],
  [[0x4d, 0x4d, 0x00, 0x2a], said('block.tiffPicture')],
  [[0x49, 0x49, 0x2a, 0x00], said('block.tiffPicture')],
];

/** The only value of a block; null where it has several. */
function fillOf(block: Uint8Array): number | null {
  const value = block[0]!;
  for (let i = 1; i < block.length; i++) if (block[i] !== value) return null;
  return value;
}

/**
 * As a FAT directory: entries of 32 bytes with names of printable capitals, known attributes and
 * clusters (ECMA-107, clause 11).
 */
function looksLikeDirectory(block: Uint8Array): boolean {
  let entries = 0;
  for (let at = 0; at + 32 <= block.length; at += 32) {
    const first = block[at]!;
    if (first === 0) break;
    const attributes = block[at + 11]!;
    if (attributes & 0xc0 || (attributes & 0x0f) === 0x0f) return false;
    for (let i = first === 0xe5 || first === 0x05 ? 1 : 0; i < 11; i++) {
      const byte = block[at + i]!;
      if (
        byte < 0x20 ||
        byte === 0x22 ||
        byte === 0x2f ||
        byte === 0x5c ||
        (byte > 0x60 && byte < 0x7b)
      )
        return false;
    }
    entries++;
  }
  return entries >= 2;
}

const looksLikeBoot = (block: Uint8Array) =>
  block[510] === 0x55 &&
  block[511] === 0xaa &&
  (block[0] === 0xeb || block[0] === 0xe9 || block[0] === 0xfa || block[0] === 0x33);

/** Printable share of a block: text has nearly all of it. */
function looksLikeText(block: Uint8Array): boolean {
  let printable = 0;
  for (const byte of block)
    if ((byte >= 0x20 && byte < 0x7f) || byte === 0x0a || byte === 0x0d || byte === 0x09)
      printable++;
  return printable >= block.length * 0.95;
}

function traceOf(block: Uint8Array): Omit<Trace, 'offset'> | null {
  if (looksLikeBoot(block)) return { kind: 'boot', what: said('block.aBootSector') };
  if (looksLikeDirectory(block))
    return {
      kind: 'directory',
      what: said('block.aDirectory', {
        flatMap: [0, 1, 2]
          .flatMap((i) => (block[i * 32] ? [nameIn(block, i * 32)] : []))
          .join(', '),
      }),
    };
  for (const [bytes, name] of SIGNATURES)
    if (bytes.every((byte, i) => block[i] === byte))
      return { kind: 'file', what: said('block.beginningOfA', { name }) };
  return looksLikeText(block)
    ? { kind: 'text', what: said('block.textFound', { block: textIn(block) }) }
    : null;
}

const printable = (bytes: Uint8Array) =>
  [...bytes]
    .map((byte) => (byte >= 0x20 && byte < 0x7f ? String.fromCharCode(byte) : ' '))
    .join('');
const nameIn = (block: Uint8Array, at: number) =>
  (block[at] === 0xe5 ? '?' : '') +
  printable(block.subarray(at + (block[at] === 0xe5 ? 1 : 0), at + 8)).trim() +
  `.${printable(block.subarray(at + 8, at + 11)).trim()}`.replace(/\.$/, '');
const textIn = (block: Uint8Array) => printable(block.subarray(0, 60)).replace(/ +/g, ' ').trim();

export interface VerdictInput {
  /** Byte ranges that files and their volume's own tables take, in any order. */
  inUse: readonly { offset: number; length: number }[];
  /** Files that are not deleted. */
  files: number;
  /** What was not read: taken as nothing. */
  unread: readonly { offset: number; length: number }[];
  /** Called now and then with the bytes looked at; may stop it by throwing. */
  progress?: (bytes: number) => void;
}

/** Looks at all of a device. */
export async function findingOf(
  source: ByteSource,
  { inUse, files, unread, progress }: VerdictInput,
): Promise<DeviceFinding> {
  const fills = new Map<number, number>();
  const traces: Trace[] = [];
  const more: DeviceFinding['more'] = { boot: 0, directory: 0, file: 0, text: 0 };
  const skipped = coverOf(inUse);
  const missing = coverOf(unread);
  let [blocks, traced, known, gone] = [0, 0, 0, 0];
  // A text over many blocks is one trace.
  let lastText = -1;
  for (let at = 0; at < source.size; at += CHUNK) {
    const bytes = await source.read(at, CHUNK);
    progress?.(at + bytes.length);
    for (let i = 0; i + BLOCK <= bytes.length; i += BLOCK) {
      blocks++;
      if (missing(at + i)) {
        gone++;
        continue;
      }
      const block = bytes.subarray(i, i + BLOCK);
      const fill = fillOf(block);
      if (fill !== null) fills.set(fill, (fills.get(fill) ?? 0) + 1);
      else if (skipped(at + i)) known++;
      else {
        traced++;
        const trace = traceOf(block);
        const goesOn = trace?.kind === 'text' && lastText === at + i - BLOCK;
        if (trace?.kind === 'text') lastText = at + i;
        if (!trace || goesOn) continue;
        if (traces.length < MAX_TRACES) traces.push({ ...trace, offset: at + i });
        else more[trace.kind]++;
      }
    }
  }
  const byCount = [...fills]
    .map(([value, count]) => ({ value, blocks: count }))
    .sort((a, b) => b.blocks - a.blocks);
  return {
    ...judge({ blocks, traced, known, gone, files, fills: byCount, found: traces.length }),
    blocks,
    fills: byCount.slice(0, 8),
    traced,
    traces,
    more,
  };
}

/** Whether a byte lies in one of the ranges; asked in rising order. */
function coverOf(ranges: readonly { offset: number; length: number }[]): (at: number) => boolean {
  const sorted = ranges
    .filter(({ offset, length }) => offset >= 0 && length > 0)
    .sort((a, b) => a.offset - b.offset);
  let i = 0;
  let end = 0;
  return (at) => {
    for (; i < sorted.length && sorted[i]!.offset <= at; i++)
      end = Math.max(end, sorted[i]!.offset + sorted[i]!.length);
    return at < end;
  };
}

interface Counts {
  blocks: number;
  traced: number;
  known: number;
  gone: number;
  files: number;
  fills: DeviceFinding['fills'];
  found: number;
}

const hex = (value: number) => `${value.toString(16).toUpperCase().padStart(2, '0')}h`;

function judge({ blocks, traced, known, gone, files, fills, found }: Counts): {
  verdict: DeviceVerdict;
  why: Said;
} {
  const read = blocks - gone;
  if (blocks === 0 || read < blocks / 10)
    return {
      verdict: 'unreadable',
      why: said('block.onlyOfBlocksWere', { read, blocks }),
    };
  if (files > 0)
    return {
      verdict: 'in-use',
      why: said('block.filesAreOnIt', { files, traced }),
    };
  if (traced + known === 0) {
    const [only] = fills;
    if (fills.length === 1 && FACTORY_FILLS.includes(only!.value))
      return {
        verdict: 'never-written',
        why: said('block.everyBlockIsFilled', { value: hex(only!.value) }),
      };
    return {
      verdict: 'wiped',
      why: said('block.everyBlockHoldsOne', {
        fills: fills.slice(0, 3).map(({ value }) => hex(value)),
      }),
    };
  }
  if (traced === 0)
    return {
      verdict: 'never-written',
      why: said('block.besideTheEmptyVolumes'),
    };
  // Noise without any trace is what a wiping program leaves.
  if (found === 0 && traced > read * 0.9)
    return {
      verdict: 'wiped',
      why: said('block.nearlyEveryBlockHolds'),
    };
  return {
    verdict: 'written-over',
    why: said('block.itLooksEmptyBut', { traced }),
  };
}
