/** Chunks of EA IFF 85 and its kin: an ID of four letters, a size, a body padded to even. */

const HEAD = 12;
const CHUNK_HEAD = 8;
const MOST_CHUNKS = 10_000;

export interface IffChunk {
  id: string;
  /** What its size says. */
  stated: number;
  /** What of it is there. */
  body: Uint8Array;
}

export const idAt = (bytes: Uint8Array, at: number): string =>
  String.fromCharCode(...bytes.subarray(at, at + 4));

export const viewOf = (bytes: Uint8Array): DataView =>
  new DataView(bytes.buffer, bytes.byteOffset, bytes.length);

/** The chunks behind a head of 12 bytes, as far as the file goes; least byte first in RIFF only. */
export function* iffChunks(bytes: Uint8Array, isLittle: boolean): Generator<IffChunk> {
  const view = viewOf(bytes);
  let at = HEAD;
  for (let count = 0; at + CHUNK_HEAD <= bytes.length && count < MOST_CHUNKS; count++) {
    const stated = view.getUint32(at + 4, isLittle);
    const body = bytes.subarray(at + CHUNK_HEAD, at + CHUNK_HEAD + stated);
    yield { id: idAt(bytes, at), stated, body };
    at += CHUNK_HEAD + stated + (stated % 2);
  }
}

/** The first chunk of each ID. */
export function firstChunks(bytes: Uint8Array, isLittle: boolean): Map<string, IffChunk> {
  const first = new Map<string, IffChunk>();
  for (const chunk of iffChunks(bytes, isLittle))
    if (!first.has(chunk.id)) first.set(chunk.id, chunk);
  return first;
}
