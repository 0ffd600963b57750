/**
 * What the smaller file systems share: entries over extents of a source, a list of problems with an
 * end, owners of blocks.
 */
import type { ByteSource } from '../bits/byte-source';
import type { Problem, ProblemKind } from '../problems';
import { isSafeName, safeName } from './safe-name';
import { streamContents } from './contents';
import { collect, recordedBytes, type Volume, type VolumeEntry } from './volume';
import { said, type Said, type Words } from '@/core/said';

/** Problems listed one by one; the rest is counted. */
const MAX_PROBLEMS = 200;

export class ProblemList {
  private readonly list: Problem[] = [];
  private more = 0;

  report(kind: ProblemKind, offset: number | null, what: Said): void {
    if (this.list.length < MAX_PROBLEMS) this.list.push({ kind, offset, said: what });
    else this.more++;
  }

  /** Everything that another list was told. */
  add(other: ProblemList): void {
    for (const { kind, offset, said: what } of other.list) this.report(kind, offset, what);
    this.more += other.more;
  }

  has(kind: ProblemKind): boolean {
    return this.list.some((each) => each.kind === kind);
  }

  get count(): number {
    return this.list.length + this.more;
  }

  all(): Problem[] {
    return this.more === 0
      ? this.list
      : [
          ...this.list,
          {
            kind: 'too-many-entries',
            offset: null,
            said: said('volume.furtherProblemsAreNot', { more: this.more }),
          },
        ];
  }
}

/** Which entry each block belongs to, so that crossed chains and lost blocks are seen. */
export class BlockOwners {
  private readonly owners: Uint32Array;
  private readonly names: Words[] = [''];

  constructor(blocks: number) {
    this.owners = new Uint32Array(blocks);
  }

  /** A number for `name`, to claim blocks with. */
  owner(name: Words): number {
    this.names.push(name);
    return this.names.length - 1;
  }

  /** Claims a block; gives the name of the one that has it already, or null. */
  claim(block: number, owner: number): Words | null {
    const before = this.owners[block];
    if (before) return before === owner ? null : this.names[before]!;
    this.owners[block] = owner;
    return null;
  }

  isOwned(block: number): boolean {
    return (this.owners[block] ?? 0) !== 0;
  }
}

interface VolumeParts {
  filesystem: string;
  label: string | null;
  totalBytes: number;
  freeBytes: number;
  entries: readonly VolumeEntry[];
  problems: readonly Problem[];
}

/**
 * An entry that reaches past the end of the source is cut, whatever its own system thinks of it; a
 * deleted one is no longer whole.
 */
function cutAt(size: number, entry: VolumeEntry): VolumeEntry {
  const { kind, extents, deleted, recoverable } = entry;
  if (kind !== 'file' || recoverable === 'none' || entry.link !== undefined) return entry;
  const there = extents.reduce(
    (sum, { offset, length }) =>
      sum + (offset < 0 ? length : Math.max(0, Math.min(length, size - offset))),
    0,
  );
  if (there >= recordedBytes(entry)) return entry;
  if (!deleted) return { ...entry, damaged: true };
  return { ...entry, recoverable: there > 0 ? 'partial' : 'none' };
}

/** A volume whose files are extents of `source`. */
export function extentVolume(source: ByteSource, parts: VolumeParts): Volume {
  const stream = (entry: VolumeEntry) => streamContents(source, entry);
  const entries = parts.entries.map((entry) => cutAt(source.size, entry));
  return { ...parts, entries, stream, read: (entry) => collect(stream(entry)) };
}

/** A path below the root made harmless part by part; what had to be changed is a problem. */
export function pathOf(
  folders: readonly string[],
  recordedName: string,
  problems: ProblemList,
  offset: number | null,
): string {
  if (!isSafeName(recordedName))
    problems.report(
      'unsafe-name',
      offset,
      said('volume.theNameCantStand', {
        recordedName: JSON.stringify(recordedName.slice(0, 80)),
        recordedName2: JSON.stringify(safeName(recordedName)),
      }),
    );
  return [...folders, safeName(recordedName)].join('/');
}

const LONGEST_NAME = 255;

/**
 * A name that no system of today holds is shortened in the path; told apart from one that is
 * hostile.
 */
export function tellLongName(
  recordedName: string,
  problems: ProblemList,
  offset: number | null,
): void {
  const bytes = new TextEncoder().encode(recordedName).length;
  if (bytes > LONGEST_NAME)
    problems.report(
      'name-too-long',
      offset,
      said('volume.theNameHasBytes', {
        recordedName: JSON.stringify(recordedName.slice(0, 40)),
        bytes,
      }),
    );
}

/** An entry with everything that most of them have. */
export function fileEntry(
  entry: Pick<VolumeEntry, 'path' | 'recordedName' | 'bytes' | 'extents'> & Partial<VolumeEntry>,
): VolumeEntry {
  return {
    kind: 'file',
    modified: null,
    locked: false,
    deleted: false,
    recoverable: null,
    damaged: false,
    ...entry,
  };
}
