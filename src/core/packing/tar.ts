/**
 * Tar archives by their headers alone (POSIX.1-2001: `ustar` interchange format and `pax` extended
 * headers; and the two older ways of names that do not fit: a member of type `L` before it, and sizes
 * in base 256). Bytes of members are not looked at: they are slices of the archive.
 */
import { sliceSource, type ByteSource } from '../bits/byte-source';

const BLOCK = 512;
/** No honest extended header is longer. */
const MAX_EXTENDED = 1 << 20;
const MAX_MEMBERS = 1_000_000;

interface TarMember {
  /** As it is recorded, with `/` between its parts. */
  path: string;
  /** `other`: devices and what else is no bytes of its own. */
  type: 'file' | 'folder' | 'link' | 'other';
  /** Of its bytes in the archive. */
  offset: number;
  bytes: number;
}

interface TarListing {
  members: TarMember[];
  /** Byte behind the last member that is whole; where it breaks off before its end, there. */
  end: number;
  /** Whether the zeros came that end an archive. */
  isWhole: boolean;
}

const decoder = new TextDecoder();
const textIn = (field: Uint8Array): string => {
  const end = field.indexOf(0);
  return decoder.decode(end < 0 ? field : field.subarray(0, end));
};

/** Octal digits, or base 256 where the first bit is set; NaN of anything else. */
function numberIn(field: Uint8Array): number {
  if (field[0]! & 0x80) {
    const [first, ...rest] = field;
    const value = rest.reduce((sum, byte) => sum * 256 + byte, first! & 0x7f);
    return Number.isSafeInteger(value) ? value : NaN;
  }
  const digits = textIn(field).trim();
  return /^[0-7]*$/.test(digits) ? Number.parseInt(digits || '0', 8) : NaN;
}

const CHECKSUM = { from: 148, to: 156 };

/** All bytes summed, those of the sum itself as spaces. */
function isHeader(block: Uint8Array): boolean {
  if (block.length < BLOCK) return false;
  const given = numberIn(block.subarray(CHECKSUM.from, CHECKSUM.to));
  const spaces = (CHECKSUM.to - CHECKSUM.from) * 0x20;
  const sum = block.reduce((all, byte, at) => {
    const isOfSum = at >= CHECKSUM.from && at < CHECKSUM.to;
    return isOfSum ? all : all + byte;
  }, spaces);
  return given === sum;
}

const isZeros = (block: Uint8Array): boolean =>
  block.length === BLOCK && block.every((byte) => byte === 0);

/** Whether bytes begin as a tar archive that says so itself. */
export const beginsAsTar = (head: Uint8Array): boolean =>
  textIn(head.subarray(257, 262)) === 'ustar' && isHeader(head.subarray(0, BLOCK));

interface Header {
  path: string;
  flag: string;
  bytes: number;
}

function headerIn(block: Uint8Array): Header | null {
  if (!isHeader(block)) return null;
  const bytes = numberIn(block.subarray(124, 136));
  if (Number.isNaN(bytes)) return null;
  const name = textIn(block.subarray(0, 100));
  // Where the magic is followed by spaces, what stands here are times.
  const hasPrefix = decoder.decode(block.subarray(257, 263)) === 'ustar\0';
  const prefix = hasPrefix ? textIn(block.subarray(345, 500)) : '';
  return {
    path: prefix ? `${prefix}/${name}` : name,
    flag: String.fromCharCode(block[156]!),
    bytes,
  };
}

/** `length key=value\n` …: the keys that count here. What is malformed ends it. */
function extendedIn(bytes: Uint8Array): Map<string, string> {
  const all = new Map<string, string>();
  for (let at = 0; at < bytes.length;) {
    const space = bytes.indexOf(0x20, at);
    const length = Number(space < 0 ? NaN : decoder.decode(bytes.subarray(at, space)));
    if (!Number.isInteger(length) || length <= space - at + 1 || at + length > bytes.length) break;
    const line = decoder.decode(bytes.subarray(space + 1, at + length - 1));
    const equals = line.indexOf('=');
    if (equals > 0) all.set(line.slice(0, equals), line.slice(equals + 1));
    at += length;
  }
  return all;
}

function typeOf(flag: string, path: string): TarMember['type'] {
  // An old archive marks a folder by the end of its name.
  if (flag === '5' || ((flag === '0' || flag === '\0') && path.endsWith('/'))) return 'folder';
  if (flag === '0' || flag === '\0' || flag === '7') return 'file';
  return flag === '1' || flag === '2' ? 'link' : 'other';
}

/** What extended headers said of the member that follows. */
class Extended {
  private readonly ofAll = new Map<string, string>();
  private ofNext = new Map<string, string>();

  /** Whether a header was one that tells of others. */
  take(flag: string, bytes: Uint8Array): void {
    if (flag === 'L') this.ofNext.set('path', textIn(bytes));
    if (flag === 'x') for (const [key, value] of extendedIn(bytes)) this.ofNext.set(key, value);
    if (flag === 'g') for (const [key, value] of extendedIn(bytes)) this.ofAll.set(key, value);
  }

  of(header: Header): Pick<Header, 'path' | 'bytes'> {
    const said = (key: string) => this.ofNext.get(key) ?? this.ofAll.get(key);
    const size = said('size');
    const told = {
      path: said('path') ?? header.path,
      bytes: size !== undefined && /^\d{1,15}$/.test(size) ? Number(size) : header.bytes,
    };
    this.ofNext = new Map();
    return told;
  }
}

const TELLS_OF_OTHERS = new Set(['x', 'g', 'L', 'K']);
/** Of these a size is said, and no bytes follow. */
const WITHOUT_BYTES = new Set(['1', '2', '3', '4', '5', '6']);

/** Every member, as far as headers are sound. */
export async function tarListing(source: ByteSource): Promise<TarListing> {
  const members: TarMember[] = [];
  const extended = new Extended();
  let at = 0;
  while (members.length < MAX_MEMBERS) {
    const block = await source.read(at, BLOCK);
    if (isZeros(block)) return { members, end: at, isWhole: true };
    const header = headerIn(block);
    if (!header) break;
    const tells = TELLS_OF_OTHERS.has(header.flag);
    const { path, bytes } = tells ? header : extended.of(header);
    const length = WITHOUT_BYTES.has(header.flag) ? 0 : bytes;
    const offset = at + BLOCK;
    if (offset + length > source.size || (tells && length > MAX_EXTENDED)) break;
    if (tells) extended.take(header.flag, await source.read(offset, length));
    else members.push({ path, type: typeOf(header.flag, path), offset, bytes: length });
    at = offset + Math.ceil(length / BLOCK) * BLOCK;
  }
  return { members, end: at, isWhole: false };
}

/** The bytes of a member. */
export const memberSource = (archive: ByteSource, { offset, bytes }: TarMember): ByteSource =>
  sliceSource(archive, offset, bytes);
