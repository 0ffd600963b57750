/**
 * Lossless packing (`docs/formats/packed.md`): gzip members (RFC 1952), one a chunk, then empty
 * members whose extra fields
 * hold where each chunk begins. Any `gunzip` unpacks it; our reader seeks in it.
 */
import type { ByteSource } from '../bits/byte-source';
import { crc32 } from '../bits/crc32';
import { toHex } from '../digester';

/** Deflate without a wrapper (RFC 1951), passed in: Node and browsers each bring their own. */
export interface Deflater {
  deflate(bytes: Uint8Array): Promise<Uint8Array>;
}
/** Gives no more than `bytes`, and fails where there is more or something else. */
export interface Inflater {
  inflate(packed: Uint8Array, bytes: number): Promise<Uint8Array>;
}

export const CHUNK_BYTES = 1 << 20;
/** A chunk that claims to be larger is none: each is unpacked whole. */
const MOST_CHUNK_BYTES = 64 << 20;
/** Deflate packs 258 bytes into two bits at the best: more than this is not in what is there. */
const MOST_RATIO = 1032;
const VERSION = 1;
const HEADER = 10;
const TRAILER = 8;
const EXTRA = 0x04;
const SUBFIELD = 4;
/**
 * Of the index in one extra field: version, kind, where in the list it begins, how many follow; in
 * the first also the sizes and the digest.
 */
const PART_HEAD = 12;
const FIRST_HEAD = PART_HEAD + 4 + 8 + 32;
const ENTRY = 4;
/** An extra field holds 65,535 bytes. */
const MAX_ENTRIES = 15_000;

/** An empty deflate stream. */
const EMPTY = Uint8Array.of(0x03, 0x00);

const header = (flags: number) => Uint8Array.of(0x1f, 0x8b, 8, flags, 0, 0, 0, 0, 0, 255);

function member(
  body: Uint8Array,
  crc: number,
  size: number,
  extra: Uint8Array | null = null,
): Uint8Array {
  const start = HEADER + (extra ? 2 + extra.length : 0);
  const out = new Uint8Array(start + body.length + TRAILER);
  const view = new DataView(out.buffer);
  out.set(header(extra ? EXTRA : 0));
  if (extra) {
    view.setUint16(HEADER, extra.length, true);
    out.set(extra, HEADER + 2);
  }
  out.set(body, start);
  view.setUint32(start + body.length, crc, true);
  view.setUint32(start + body.length + 4, size >>> 0, true);
  return out;
}

/** One chunk as a member of its own. */
export async function packChunk(bytes: Uint8Array, deflater: Deflater): Promise<Uint8Array> {
  return member(await deflater.deflate(bytes), crc32(bytes), bytes.length);
}

/**
 * The members that say where the chunks begin: `lengths` are bytes of each chunk's member, `sha256`
 * is of the content.
 */
export function indexMembers(
  lengths: readonly number[],
  totalBytes: number,
  sha256: Uint8Array,
): Uint8Array[] {
  const parts: Uint8Array[] = [];
  for (let first = 0; first === 0 || first < lengths.length; first += MAX_ENTRIES) {
    const some = lengths.slice(first, first + MAX_ENTRIES);
    const head = first === 0 ? FIRST_HEAD : PART_HEAD;
    const extra = new Uint8Array(SUBFIELD + head + some.length * ENTRY);
    const view = new DataView(extra.buffer);
    extra.set([0x46, 0x53]);
    view.setUint16(2, extra.length - SUBFIELD, true);
    view.setUint8(4, VERSION);
    view.setUint8(5, first === 0 ? 0 : 1);
    // How many members of this kind there are altogether: the reader finds the first from the last.
    view.setUint16(6, Math.max(1, Math.ceil(lengths.length / MAX_ENTRIES)), true);
    view.setUint32(8, first, true);
    view.setUint32(12, some.length, true);
    if (first === 0) {
      view.setUint32(16, CHUNK_BYTES, true);
      view.setBigUint64(20, BigInt(totalBytes), true);
      extra.set(sha256, 28);
    }
    some.forEach((length, i) => view.setUint32(SUBFIELD + head + i * ENTRY, length, true));
    parts.push(member(EMPTY, 0, 0, extra));
  }
  return parts;
}

interface PackedIndex {
  totalBytes: number;
  chunkBytes: number;
  /** Hexadecimal, of the content. */
  sha256: string;
  /** Where each chunk's member begins, and behind the last where the index does. */
  starts: number[];
}

interface Part {
  kind: number;
  parts: number;
  first: number;
  count: number;
  data: DataView;
  extra: Uint8Array;
  start: number;
}

/** The index member that ends at `end`; null where none does. */
async function partEndingAt(source: ByteSource, end: number): Promise<Part | null> {
  const most = HEADER + 2 + 0xffff + EMPTY.length + TRAILER;
  const from = Math.max(0, end - most);
  const tail = await source.read(from, end - from);
  // Its length is not known from behind: every place where such a member could begin is tried, the
  // longest last.
  for (
    let at = tail.length - (HEADER + 2 + SUBFIELD + PART_HEAD + EMPTY.length + TRAILER);
    at >= 0;
    at--
  ) {
    if (tail[at] !== 0x1f || tail[at + 1] !== 0x8b || tail[at + 2] !== 8 || tail[at + 3] !== EXTRA)
      continue;
    const length = tail[at + HEADER]! | (tail[at + HEADER + 1]! << 8);
    if (at + HEADER + 2 + length + EMPTY.length + TRAILER !== tail.length) continue;
    const extra = tail.subarray(at + HEADER + 2, at + HEADER + 2 + length);
    const data = new DataView(extra.buffer, extra.byteOffset, extra.byteLength);
    if (
      extra[0] !== 0x46 ||
      extra[1] !== 0x53 ||
      data.getUint16(2, true) !== length - SUBFIELD ||
      length < SUBFIELD + PART_HEAD ||
      extra[4] !== VERSION
    )
      continue;
    return {
      kind: extra[5]!,
      parts: data.getUint16(6, true),
      first: data.getUint32(8, true),
      count: data.getUint32(12, true),
      data,
      extra,
      start: from + at,
    };
  }
  return null;
}

/** Whether a file of so many bytes can hold what its index says. */
const canBe = (chunkBytes: number, total: bigint, packedBytes: number): boolean =>
  chunkBytes > 0 &&
  chunkBytes <= MOST_CHUNK_BYTES &&
  total <= BigInt(packedBytes) * BigInt(MOST_RATIO);

/**
 * The index of a packed file; null where it has none that holds together, and is no packed file of
 * ours.
 */
export async function readIndex(source: ByteSource): Promise<PackedIndex | null> {
  const last = await partEndingAt(source, source.size);
  if (!last) return null;
  const parts = [last];
  for (let i = 1; i < last.parts; i++) {
    const before = await partEndingAt(source, parts[0]!.start);
    if (!before) return null;
    parts.unshift(before);
  }
  const first = parts[0]!;
  if (first.kind !== 0 || first.extra.length < SUBFIELD + FIRST_HEAD) return null;
  const [chunkBytes, total] = [first.data.getUint32(16, true), first.data.getBigUint64(20, true)];
  if (!canBe(chunkBytes, total, source.size)) return null;
  const totalBytes = Number(total);
  const starts = [0];
  for (const { kind, first: begin, count, extra, data } of parts) {
    const head = SUBFIELD + (kind === 0 ? FIRST_HEAD : PART_HEAD);
    if (begin !== starts.length - 1 || head + count * ENTRY !== extra.length) return null;
    for (let i = 0; i < count; i++)
      starts.push(starts[starts.length - 1]! + data.getUint32(head + i * ENTRY, true));
  }
  // What it says must be what is there: as many chunks as the content needs, and the index right
  // behind them.
  if (
    starts.length - 1 !== Math.ceil(totalBytes / chunkBytes) ||
    starts[starts.length - 1] !== first.start
  )
    return null;
  return { totalBytes, chunkBytes, sha256: toHex(first.extra.subarray(28, 60)), starts };
}

/** A chunk did not unpack to what its own check says. */
export class PackedDamage extends Error {}

/**
 * The content, unpacked where it is read; a few chunks are kept. Fails with `PackedDamage` where a
 * chunk is hurt.
 */
export function packedSource(
  source: ByteSource,
  index: PackedIndex,
  inflater: Inflater,
): ByteSource {
  const KEPT = 8;
  const kept = new Map<number, Promise<Uint8Array>>();
  const load = async (chunk: number): Promise<Uint8Array> => {
    const [start, end] = [index.starts[chunk]!, index.starts[chunk + 1]!];
    const size = Math.min(index.chunkBytes, index.totalBytes - chunk * index.chunkBytes);
    const packed = await source.read(start, end - start);
    const wrong = () =>
      new PackedDamage(
        `Chunk ${chunk + 1} of the packed file is damaged: ${size} bytes from ` +
          `${chunk * index.chunkBytes} on are lost.`,
      );
    if (
      packed.length < HEADER + TRAILER ||
      packed[0] !== 0x1f ||
      packed[1] !== 0x8b ||
      packed[3] !== 0
    )
      throw wrong();
    const bytes = await inflater
      .inflate(packed.subarray(HEADER, packed.length - TRAILER), size)
      .catch(() => {
        throw wrong();
      });
    const view = new DataView(packed.buffer, packed.byteOffset + packed.length - TRAILER, TRAILER);
    if (bytes.length !== size || crc32(bytes) !== view.getUint32(0, true)) throw wrong();
    return bytes;
  };
  const chunkOf = (chunk: number): Promise<Uint8Array> => {
    const known = kept.get(chunk);
    if (known) {
      kept.delete(chunk);
      kept.set(chunk, known);
      return known;
    }
    const loading = load(chunk);
    kept.set(chunk, loading);
    loading.catch(() => kept.delete(chunk));
    if (kept.size > KEPT) kept.delete(kept.keys().next().value!);
    return loading;
  };
  return {
    size: index.totalBytes,
    async read(offset, length) {
      const from = Math.max(0, Math.min(offset, index.totalBytes));
      const to = Math.min(index.totalBytes, from + Math.max(0, length));
      const out = new Uint8Array(to - from);
      for (let at = from; at < to;) {
        const chunk = Math.floor(at / index.chunkBytes);
        const bytes = await chunkOf(chunk);
        const within = at - chunk * index.chunkBytes;
        const part = bytes.subarray(within, Math.min(bytes.length, within + to - at));
        out.set(part, at - from);
        at += part.length;
      }
      return out;
    },
  };
}
