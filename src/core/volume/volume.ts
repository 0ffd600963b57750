/** The one interface of all file systems: opened over bytes, listed, read, and never trusted. */
import type { ByteSource } from '../bits/byte-source';
import type { Problem } from '../problems';

/** How much of a deleted file is still there. */
export type Recoverable = 'whole' | 'partial' | 'none';

export interface VolumeEntry {
  /** Below the volume's root, forward slashes; parts that would be unsafe anywhere are made harmless. */
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
  /** Its chain ends early, crosses another, or leaves the volume: what is read is not all of it, or not its own. */
  damaged: boolean;
}

export interface Extent {
  offset: number;
  length: number;
}

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

/** Reads an entry's extents from the source, cut to its size. */
export async function* streamExtents(source: ByteSource, entry: Pick<VolumeEntry, 'extents' | 'bytes'>): AsyncGenerator<Uint8Array> {
  let left = entry.bytes;
  for (const { offset, length } of entry.extents) {
    for (let done = 0; done < length && left > 0;) {
      const part = await source.read(offset + done, Math.min(STREAM_CHUNK, length - done, left));
      if (part.length === 0) return;
      yield part;
      done += part.length;
      left -= part.length;
    }
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
