/** The one interface of all file systems: opened over bytes, listed, read, and never trusted. */
import type { ByteSource } from '../bits/byte-source';
import type { Problem } from '../problems';

/** How much of a deleted file is still there. */
export type Recoverable = 'whole' | 'partial' | 'none';

export interface VolumeEntry {
  /**
   * Below the volume's root, forward slashes; parts that would be unsafe anywhere are made
   * harmless.
   */
  path: string;
  /** The last part as recorded, before anything was made harmless. */
  recordedName: string;
  kind: 'file' | 'directory';
  bytes: number;
  /** Local, without a zone: `1987-03-14T09:26:52`; null where absent or impossible. */
  modified: string | null;
  locked: boolean;
  deleted: boolean;
  recoverable: Recoverable | null;
  /** Byte ranges of the source that hold it, in order, as far as they are known. */
  extents: Extent[];
  /**
   * What kind of file its system takes it for, in that system's own terms; absent where it knows
   * none.
   */
  type?: string;
  /** The number that stands for its type, where that says more than the type does. */
  typeCode?: number;
  /**
   * What its system notes beside the type: a load address, an auxiliary type; absent where it keeps
   * none.
   */
  address?: number;
  /** Its size as its own directory gives it, `28 blocks`; absent where that is in bytes. */
  ownSize?: string;
  /**
   * Bytes of it as they are recorded, where it is packed on its disc (zisofs): its extents hold these,
   * while `bytes` counts what they unpack to.
   */
  packedBytes?: number | null;
  /** Where it leads, of a link that is no file; absent of files. */
  link?: string;
  /**
   * Its chain ends early, crosses another, or leaves the volume: what is read is not all of it, or
   * not its own.
   */
  damaged: boolean;
}

/**
 * All of its bytes are there: what is cut has no digest of its own, which would be another file's.
 */
export const isWhole = (entry: Recorded & Pick<VolumeEntry, 'recoverable'>): boolean =>
  entry.recoverable !== 'none' &&
  entry.extents.reduce((sum, { length }) => sum + length, 0) >= recordedBytes(entry);

/** What says how many bytes a file has on its disc, and where. */
type Recorded = Pick<VolumeEntry, 'bytes' | 'packedBytes' | 'extents'>;

/** Bytes that its extents should hold. */
export const recordedBytes = ({
  bytes,
  packedBytes,
}: Pick<VolumeEntry, 'bytes' | 'packedBytes'>): number => packedBytes ?? bytes;

/**
 * A run of bytes of the source; `HOLE` as its offset stands for zeros that are nowhere recorded.
 */
export interface Extent {
  offset: number;
  length: number;
}
export const HOLE = -1;

export interface Volume {
  readonly filesystem: string;
  readonly label: string | null;
  /** Bytes of the volume by its own account. */
  readonly totalBytes: number;
  readonly freeBytes: number;
  readonly entries: readonly VolumeEntry[];
  readonly problems: readonly Problem[];
  /** The bytes of a file, up to its size; shorter where it is damaged. */
  read(entry: VolumeEntry): Promise<Uint8Array>;
  /** The same, piece by piece. */
  stream(entry: VolumeEntry): AsyncGenerator<Uint8Array>;
}

const STREAM_CHUNK = 1 << 18;

/**
 * Extents from `first` on that lie so close together, in rising order, that one read fetches them
 * all.
 */
function nearRun(extents: readonly Extent[], first: number): { end: number; until: number } {
  const { offset, length } = extents[first]!;
  let until = offset + length;
  let end = first + 1;
  for (; end < extents.length; end++) {
    const next = extents[end]!;
    if (
      next.offset < until ||
      next.offset - until > next.length ||
      next.offset + next.length - offset > STREAM_CHUNK
    )
      break;
    until = next.offset + next.length;
  }
  return { end, until };
}

/** Reads an entry's extents from the source, cut to its size. */
export async function* streamExtents(
  source: ByteSource,
  { extents, bytes }: { extents: readonly Extent[]; bytes: number },
): AsyncGenerator<Uint8Array> {
  let left = bytes;
  for (let at = 0; at < extents.length && left > 0;) {
    const { offset, length } = extents[at]!;
    if (offset < 0) {
      for (let done = 0; done < length && left > 0;) {
        const zeros = new Uint8Array(Math.min(STREAM_CHUNK, length - done, left));
        yield zeros;
        done += zeros.length;
        left -= zeros.length;
      }
      at++;
      continue;
    }
    const { end, until } = nearRun(extents, at);
    if (end > at + 1) {
      // Small sectors with a few bytes between them: one read for many.
      const run = await source.read(offset, until - offset);
      for (; at < end && left > 0; at++) {
        const part = run
          .subarray(
            extents[at]!.offset - offset,
            Math.min(extents[at]!.offset - offset + extents[at]!.length, run.length),
          )
          .subarray(0, left);
        if (part.length === 0) return;
        yield part;
        left -= part.length;
      }
      continue;
    }
    for (let done = 0; done < length && left > 0;) {
      const part = await source.read(offset + done, Math.min(STREAM_CHUNK, length - done, left));
      if (part.length === 0) return;
      yield part;
      done += part.length;
      left -= part.length;
    }
    at++;
  }
}

/** All of a stream in one array. */
export async function collect(parts: AsyncIterable<Uint8Array>): Promise<Uint8Array> {
  const list: Uint8Array[] = [];
  let size = 0;
  for await (const part of parts) {
    list.push(part);
    size += part.length;
  }
  const all = new Uint8Array(size);
  let at = 0;
  for (const part of list) {
    all.set(part, at);
    at += part.length;
  }
  return all;
}
