/**
 * Names of directory entries: short ones in code page 437, long ones in UTF-16 (ECMA-107, clause
 * 11; VFAT entries).
 */

import { DELETED, ESCAPED_E5, LAST_PART } from './records';

/** Bytes 80h–FFh of code page 437. */
const CODE_PAGE_437 =
  'ÇüéâäàåçêëèïîìÄÅÉæÆôöòûùÿÖÜ¢£¥₧ƒáíóúñÑªº¿⌐¬½¼¡«»░▒▓│┤╡╢╖╕╣║╗╝╜╛┐└┴' +
  '┬├─┼╞╟╚╔╩╦╠═╬╧╨╤╥╙╘╒╓╫╪┘┌█▄▌▐▀αßΓπΣσµτΦΘΩδ∞φε∩≡±≥≤⌠⌡÷≈°∙·√ⁿ²■\u00a0';

export function decode437(bytes: Uint8Array): string {
  let text = '';
  for (const byte of bytes)
    text += byte < 0x80 ? String.fromCharCode(byte) : CODE_PAGE_437[byte - 0x80]!;
  return text;
}

/** Bytes of a text in code page 437. Throws RangeError for a character that it has not. */
export function bytes437(text: string): Uint8Array {
  return Uint8Array.from(text, (char) => {
    const code = char.charCodeAt(0);
    const high = CODE_PAGE_437.indexOf(char);
    if (code >= 0x80 && high < 0) throw new RangeError(`“${char}” is not in code page 437`);
    return code < 0x80 ? code : high + 0x80;
  });
}

/** Stands for the first byte of a deleted name, which is gone. */
const LOST_LETTER = '_';

/** The short name of a 32-byte entry; byte 0Ch may say that a part is shown in lower case. */
export function shortName(entry: Uint8Array, deleted: boolean): string {
  const raw = entry.slice(0, 11);
  if (raw[0] === ESCAPED_E5) raw[0] = DELETED;
  if (deleted) raw[0] = LOST_LETTER.charCodeAt(0);
  let base = decode437(raw.subarray(0, 8)).trimEnd();
  let extension = decode437(raw.subarray(8, 11)).trimEnd();
  const flags = entry[12]!;
  if (flags & 0x08) base = base.toLowerCase();
  if (flags & 0x10) extension = extension.toLowerCase();
  return extension ? `${base}.${extension}` : base;
}

/** Checksum that ties long-name entries to their short name. */
function shortNameChecksum(entry: Uint8Array, firstByte = entry[0]!): number {
  let sum = firstByte;
  for (let i = 1; i < 11; i++) sum = ((((sum & 1) << 7) | (sum >> 1)) + entry[i]!) & 0xff;
  return sum;
}

/** The 13 UTF-16 units of a long-name entry: at 1, 14 and 28. */
function unitsOf(entry: Uint8Array): number[] {
  const view = new DataView(entry.buffer, entry.byteOffset, entry.byteLength);
  const units: number[] = [];
  for (const [at, count] of [
    [1, 5],
    [14, 6],
    [28, 2],
  ] as const)
    for (let i = 0; i < count; i++) units.push(view.getUint16(at + 2 * i, true));
  return units;
}

/** Collects the long-name entries that stand before a short one. */
export class LongName {
  private parts: number[][] = [];
  private checksum = -1;
  private next = 0;
  private deleted = false;

  /** Parts of a live file's name wait for its short entry. */
  get isPending(): boolean {
    return this.parts.length > 0 && !this.deleted;
  }

  add(entry: Uint8Array): void {
    const order = entry[0]!;
    const deleted = order === DELETED;
    const checksum = entry[13]!;
    const starts = deleted
      ? !this.deleted || checksum !== this.checksum
      : (order & LAST_PART) !== 0;
    if (starts) {
      this.parts = [];
      this.checksum = checksum;
      this.deleted = deleted;
      this.next = order & 0x3f;
    }
    // A deleted entry has lost its order: they stand last part first.
    const follows =
      checksum === this.checksum &&
      deleted === this.deleted &&
      (deleted || (order & 0x3f) === this.next);
    if (!follows || this.parts.length >= 20) return this.reset();
    this.parts.unshift(unitsOf(entry));
    this.next--;
  }

  reset(): void {
    this.parts = [];
    this.checksum = -1;
  }

  /**
   * The long name of this short entry, or null; forgets it. For a deleted entry any first letter
   * may make it fit.
   */
  take(entry: Uint8Array, deleted: boolean): string | null {
    const { parts, checksum } = this;
    const whole = parts.length > 0 && deleted === this.deleted && (deleted || this.next === 0);
    this.reset();
    if (!whole || (!deleted && shortNameChecksum(entry) !== checksum)) return null;
    if (
      deleted &&
      !Array.from({ length: 256 }, (_, first) => first).some(
        (first) => shortNameChecksum(entry, first) === checksum,
      )
    )
      return null;
    const units = parts.flat();
    const end = units.indexOf(0);
    return String.fromCharCode(...(end < 0 ? units : units.slice(0, end)));
  }
}
