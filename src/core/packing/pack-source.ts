/**
 * Packs a source chunk by chunk, some at a time and in order; and tries on a few chunks what it
 * would save.
 */
import type { ByteSource } from '../bits/byte-source';
import type { Digester } from '../digester';
import { CHUNK_BYTES, indexMembers, packChunk, type Deflater } from './packed';

/** Chunks packed side by side. */
const AT_ONCE = 4;

/** The packed file, piece by piece. */
export async function* packSource(
  source: ByteSource,
  deflater: Deflater,
  digester: Digester,
): AsyncGenerator<Uint8Array> {
  const hash = digester.sha256Stream();
  const lengths: number[] = [];
  const chunks = Math.ceil(source.size / CHUNK_BYTES);
  const under: Promise<Uint8Array>[] = [];
  for (let next = 0; next < chunks || under.length > 0;) {
    while (next < chunks && under.length < AT_ONCE) {
      const bytes = await source.read(next * CHUNK_BYTES, CHUNK_BYTES);
      if (bytes.length < Math.min(CHUNK_BYTES, source.size - next * CHUNK_BYTES))
        throw new Error(`only ${bytes.length} bytes came at ${next * CHUNK_BYTES}`);
      const packing = packChunk(bytes, deflater);
      // Awaited below; a failure meanwhile is not one that nobody sees.
      packing.catch(() => undefined);
      under.push(packing);
      // While the others are being packed.
      hash.update(bytes);
      next++;
    }
    const packed = await under.shift()!;
    lengths.push(packed.length);
    yield packed;
  }
  yield* indexMembers(lengths, source.size, hash.digest());
}

interface PackingTrial {
  bytes: number;
  sampled: number;
  packedShare: number;
}

/** Chunks looked at, spread over the whole. */
const SAMPLES = 12;

/** What packing would make of it, by chunks here and there; the same chunks each time. */
export async function tryPacking(source: ByteSource, deflater: Deflater): Promise<PackingTrial> {
  const chunks = Math.ceil(source.size / CHUNK_BYTES);
  const chosen = [
    ...new Set(
      Array.from({ length: Math.min(SAMPLES, chunks) }, (_, i) =>
        Math.floor(((i + 0.5) * chunks) / Math.min(SAMPLES, chunks)),
      ),
    ),
  ];
  let [taken, packed] = [0, 0];
  for (const chunk of chosen) {
    const bytes = await source.read(chunk * CHUNK_BYTES, CHUNK_BYTES);
    taken += bytes.length;
    packed += (await packChunk(bytes, deflater)).length;
  }
  return { bytes: source.size, sampled: taken, packedShare: taken === 0 ? 1 : packed / taken };
}
