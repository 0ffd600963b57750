/**
 * Bytes that can be read at any offset without being held whole: an upload, a blob, a partition, an
 * image.
 */

export interface ByteSource {
  /** Length in bytes. */
  readonly size: number;
  /**
   * Reads up to `length` bytes at `offset`; shorter only where the source ends. Never negative,
   * never past the end.
   */
  read(offset: number, length: number): Promise<Uint8Array>;
}

/** A source over bytes already in memory; reads are views, not copies. */
export function memorySource(bytes: Uint8Array): ByteSource {
  return {
    size: bytes.length,
    async read(offset, length) {
      if (offset < 0 || length < 0)
        throw new RangeError(`read of ${length} bytes at ${offset}: neither may be negative`);
      return bytes.subarray(
        Math.min(offset, bytes.length),
        Math.min(offset + length, bytes.length),
      );
    },
  };
}

/** Part of a source; `length` is cut to what the source holds. */
export function sliceSource(source: ByteSource, offset: number, length: number): ByteSource {
  const start = Math.min(Math.max(0, offset), source.size);
  const size = Math.min(Math.max(0, length), source.size - start);
  return {
    size,
    read: (at, count) =>
      source.read(start + Math.min(at, size), Math.max(0, Math.min(count, size - at))),
  };
}

/** What a read of `length` bytes at `offset` gives of a source of `size` bytes. */
export function rangeWithin(
  size: number,
  offset: number,
  length: number,
): { from: number; to: number } {
  const from = Math.max(0, Math.min(offset, size));
  return { from, to: Math.min(size, from + Math.max(0, length)) };
}

/** A source of `size` bytes that has others at some places; zeros elsewhere. A later one counts. */
export function placedSource(
  size: number,
  parts: readonly { at: number; source: ByteSource }[],
): ByteSource {
  return {
    size,
    async read(offset, length) {
      const { from, to } = rangeWithin(size, offset, length);
      const out = new Uint8Array(to - from);
      for (const { at, source } of parts) {
        const start = Math.max(from, at);
        const end = Math.min(to, at + source.size);
        if (start < end) out.set(await source.read(start - at, end - start), start - from);
      }
      return out;
    },
  };
}

/**
 * A source over pieces of `unit` bytes each, the last may be shorter, which are fetched by their
 * number. A read throws RangeError where a piece is shorter than it has to be.
 */
export function piecewiseSource(
  size: number,
  unit: number,
  piece: (number: number) => Promise<Uint8Array>,
): ByteSource {
  return {
    size,
    async read(offset, length) {
      const end = Math.max(offset, Math.min(size, offset + length));
      const out = new Uint8Array(end - offset);
      for (let at = offset; at < end;) {
        const number = Math.floor(at / unit);
        const from = at - number * unit;
        const part = (await piece(number)).subarray(from, from + end - at);
        if (part.length === 0) throw new RangeError(`piece ${number} ends before byte ${from}`);
        out.set(part, at - offset);
        at += part.length;
      }
      return out;
    },
  };
}

/** Sources one behind the other as one. A part that gives less than it has to ends the read there. */
export function joinedSource(parts: readonly ByteSource[]): ByteSource {
  const total = parts.reduce((sum, { size }) => sum + size, 0);
  return {
    size: total,
    async read(offset, length) {
      const end = Math.min(total, offset + length);
      const out = new Uint8Array(Math.max(0, end - offset));
      let filled = 0;
      let start = 0;
      for (const part of parts) {
        const from = Math.max(0, offset - start);
        const count = Math.min(part.size, end - start) - from;
        start += part.size;
        if (count <= 0) continue;
        const piece = await part.read(from, count);
        out.set(piece, filled);
        filled += piece.length;
        if (piece.length < count) break;
      }
      return out.subarray(0, filled);
    },
  };
}

/** The whole of a source; for small things only, so the caller states the most it will hold. */
export async function readAll(source: ByteSource, limit: number): Promise<Uint8Array> {
  if (source.size > limit)
    throw new RangeError(`source of ${source.size} bytes is over the limit of ${limit}`);
  return source.read(0, source.size);
}
