/**
 * Files that are packed block by block on an ISO 9660 disc (zisofs, version 1): a header, a table
 * of places, and each block as a zlib stream (RFC 1950) of its own.
 */
import { unzlibSync } from 'fflate';
import { adler32 } from '@/core/bits/adler32';
import type { ByteSource } from '@/core/bits/byte-source';

const MAGIC = Object.freeze([0x37, 0xe4, 0x53, 0x96, 0xc9, 0xdb, 0xd6, 0x07]);
const HEADER = 16;
/** A place in the table. */
const POINTER = 4;
/** Powers of two that a block may be. */
const [LEAST_SHIFT, MOST_SHIFT] = [15, 17];
const CHECK = 4;
/** What packing adds at most to bytes that can't be packed, as a share and beside it. */
const GROWTH = 0.01;
const OVERHEAD = 64;

interface Header {
  /** Bytes unpacked. */
  bytes: number;
  /** Where the table begins. */
  tableAt: number;
  blockBytes: number;
}

/**
 * What the header of a packed file says; null where it is none that can be read, or where its table
 * does not end with the file, which has so many bytes by its record: fewer may be there.
 */
export async function zisofsHeader(source: ByteSource, recorded: number): Promise<Header | null> {
  const header = await headerOf(source);
  const end = header && (await endOf(source, header));
  return end === recorded ? header : null;
}

/** Where the last block ends, by the table. */
async function endOf(source: ByteSource, { bytes, tableAt, blockBytes }: Header): Promise<number> {
  const last = await source.read(tableAt + Math.ceil(bytes / blockBytes) * POINTER, POINTER);
  return last.length < POINTER ? -1 : new DataView(last.buffer, last.byteOffset).getUint32(0, true);
}

async function headerOf(source: ByteSource): Promise<Header | null> {
  const bytes = await source.read(0, HEADER);
  if (bytes.length < HEADER || MAGIC.some((byte, i) => bytes[i] !== byte)) return null;
  const shift = bytes[13]!;
  const tableAt = bytes[12]! * 4;
  if (shift < LEAST_SHIFT || shift > MOST_SHIFT || tableAt < HEADER) return null;
  const size = new DataView(bytes.buffer, bytes.byteOffset).getUint32(8, true);
  return { bytes: size, tableAt, blockBytes: 1 << shift };
}

/** One block unpacked to exactly `length` bytes; null where it is damaged. */
function unpacked(block: Uint8Array, length: number): Uint8Array | null {
  if (block.length === 0) return new Uint8Array(length);
  if (block.length <= CHECK) return null;
  try {
    const bytes = unzlibSync(block, { out: new Uint8Array(length) });
    const sum = new DataView(block.buffer, block.byteOffset + block.length - CHECK).getUint32(0);
    return bytes.length === length && adler32(bytes) === sum ? bytes : null;
  } catch {
    return null;
  }
}

/** The places of block `index` and of its end, by the table. */
async function placeOf(source: ByteSource, { tableAt }: Header, index: number) {
  const entry = await source.read(tableAt + index * POINTER, 2 * POINTER);
  if (entry.length < 2 * POINTER) return null;
  const view = new DataView(entry.buffer, entry.byteOffset);
  return { from: view.getUint32(0, true), to: view.getUint32(POINTER, true) };
}

/**
 * The bytes of a packed file in order, block by block; ends early at the first that is damaged.
 * `source` is the file as it is recorded.
 */
export async function* unpackZisofs(
  source: ByteSource,
  wanted: number,
): AsyncGenerator<Uint8Array> {
  const header = await headerOf(source);
  if (!header) return;
  const size = Math.min(header.bytes, wanted);
  const most = header.blockBytes * (1 + GROWTH) + OVERHEAD;
  for (let done = 0; done < size;) {
    const place = await placeOf(source, header, done / header.blockBytes);
    const length = place ? place.to - place.from : -1;
    if (!place || length < 0 || length > most) return;
    const block = await source.read(place.from, length);
    if (block.length < length) return;
    const bytes = unpacked(block, Math.min(header.blockBytes, header.bytes - done));
    if (!bytes) return;
    yield bytes.subarray(0, size - done);
    done += bytes.length;
  }
}
