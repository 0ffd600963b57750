/**
 * Text as people read it, out of files of many machines: told by its bytes, in the character set of
 * its file system.
 */
import { charOf } from '../volume/d64/names';
import { decode437 } from '../volume/fat/names';

const SAMPLE = 4096;
const FEW = 0.02;
const LINE_ENDS = new Set([0x09, 0x0a, 0x0c, 0x0d, 0x1a]);

/** Mostly printable, with line ends: then it is text to a reader, whatever it is called. */
export function looksLikeText(bytes: Uint8Array): boolean {
  if (bytes.length === 0) return true;
  const sample = bytes.subarray(0, SAMPLE);
  let odd = 0;
  for (const byte of sample) if (byte < 0x20 && !LINE_ENDS.has(byte)) odd++;
  return odd / sample.length < FEW;
}

/** Most bytes have their high bit set, as text on 16-sector catalogue volumes has. */
const hasHighBits = (bytes: Uint8Array) =>
  bytes.length > 0 &&
  bytes.subarray(0, SAMPLE).filter((byte) => byte >= 0x80).length >
    Math.min(bytes.length, SAMPLE) * 0.9;

/** The text of a file with line ends of today, up to its end mark; null where it is none. */
export function textOf(bytes: Uint8Array, filesystem: string): string | null {
  const plain =
    hasHighBits(bytes) && filesystem === 'catalogue16' ? bytes.map((byte) => byte & 0x7f) : bytes;
  if (!looksLikeText(plain)) return null;
  if (/^d(64|71|81)$/.test(filesystem))
    return Array.from(plain, (byte) => (byte === 0x0d ? '\n' : charOf(byte))).join('');
  const end = plain.indexOf(0x1a);
  return decode437(end >= 0 ? plain.subarray(0, end) : plain).replace(/\r\n?/g, '\n');
}
