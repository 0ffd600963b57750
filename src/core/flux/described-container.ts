/**
 * A capture with another description in its header: what was read stays as it is, byte for byte,
 * and the trailer's digest is worked out anew (`docs/formats/flux-container.md`).
 */
import { CUT, MALFORMED, itemEnd, readMap } from '../bits/cbor';
import type { Digester } from '../digester';
import type { ByteSource } from '../bits/byte-source';
import { ContainerWriter, encodeTrailer, parseHeader, parseTrailer } from './container';
import type { ContainerHeader } from './container';

/** No header is longer: it holds a few numbers and texts of people. */
const MOST_HEADER_BYTES = 1 << 20;
/** A trailer is a map of a number and a digest: 59 bytes at most. */
const MOST_TRAILER_BYTES = 64;
const SHA256_BYTES = 32;
const BYTES_AT_ONCE = 256 * 1024;
/** A map of two pairs whose first key is `tracks`. */
const TRAILER_BEGINS = Uint8Array.of(0xa2, 0x66, ...new TextEncoder().encode('tracks'));

export type Describing = Pick<ContainerHeader, 'label' | 'notes'>;

async function headerOf(source: ByteSource) {
  const bytes = await source.read(0, Math.min(MOST_HEADER_BYTES, source.size));
  const end = itemEnd(bytes, 0, bytes.length);
  if (end === CUT || end === MALFORMED) return null;
  const found = parseHeader(readMap(bytes, 0, end)?.entries ?? new Map());
  return found && found.damaged.length === 0
    ? { header: found.header as ContainerHeader, end }
    : null;
}

async function trailerOf(source: ByteSource) {
  const from = Math.max(0, source.size - MOST_TRAILER_BYTES);
  const bytes = await source.read(from, source.size - from);
  const at = bytes.findIndex((_, i) => TRAILER_BEGINS.every((byte, j) => bytes[i + j] === byte));
  const map = at < 0 ? null : readMap(bytes, at, bytes.length);
  const trailer = map && !map.cut && map.end === bytes.length ? parseTrailer(map.entries) : null;
  return trailer && { tracks: trailer.tracks, from: from + at };
}

interface DescribedContainer {
  size: number;
  stream(): AsyncGenerator<Uint8Array>;
}

/** Null of a capture that is cut or hurt at its ends: it goes out as it is, or not at all. */
export async function describedContainer(
  source: ByteSource,
  describing: Describing,
  digester: Digester,
): Promise<DescribedContainer | null> {
  const [head, tail] = [await headerOf(source), await trailerOf(source)];
  if (!head || !tail || tail.from < head.end) return null;
  const header = new ContainerWriter(digester).header({ ...head.header, ...describing });
  async function* stream(): AsyncGenerator<Uint8Array> {
    const hash = digester.sha256Stream();
    hash.update(header);
    yield header;
    for (let at = head!.end; at < tail!.from; at += BYTES_AT_ONCE) {
      const bytes = await source.read(at, Math.min(BYTES_AT_ONCE, tail!.from - at));
      hash.update(bytes);
      yield bytes;
    }
    yield encodeTrailer(tail!.tracks, hash.digest());
  }
  const trailer = encodeTrailer(tail.tracks, new Uint8Array(SHA256_BYTES));
  return { size: header.length + (tail.from - head.end) + trailer.length, stream };
}
