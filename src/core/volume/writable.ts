/**
 * Volumes that can be changed: files and folders put, removed, renamed, in an image in memory;
 * the original stays as it is. A change is made whole or not at all: what can't be done is refused
 * before the first byte is written.
 */
import type { Said } from '../said';
import { said } from '@/core/said';

export type RefusalReason =
  | 'full'
  | 'directory-full'
  | 'name'
  | 'exists'
  | 'missing'
  | 'not-empty'
  | 'is-folder'
  | 'no-folders'
  | 'too-large'
  | 'locked'
  | 'kind'
  | 'damaged';

/** A change that a volume can't take, and what there is to say of it to the archivist. */
export class VolumeRefusal extends Error {
  constructor(
    readonly reason: RefusalReason,
    readonly said: Said,
  ) {
    super(said.code);
  }
}

export interface FileAttributes {
  /** In its own system's terms: `PRG`, `04`, `T`; each volume has its usual one. */
  type?: string;
  /** Local, without a zone: `1987-03-14T09:26:52`; null for none. */
  modified?: string | null;
  locked?: boolean;
  /** What its system notes beside the type: a load address, an auxiliary type. */
  address?: number;
}

export const KEPT_ATTRIBUTES = Object.freeze(['type', 'modified', 'locked', 'address'] as const);
export type KeptAttribute = (typeof KEPT_ATTRIBUTES)[number];

/** Room in the target's own units, counted as the target counts. */
export interface Room {
  unit: string;
  unitBytes: number;
  total: number;
  free: number;
  /** Directory entries still to be had; of volumes with folders in the root. */
  entries: number;
}

export interface WritableVolume {
  readonly filesystem: string;
  /** All bytes as they are now. */
  readonly image: Uint8Array;
  /** What a file's name may be; null where it may stand, else a sentence that says why not. */
  refuseName(name: string): Said | null;
  /** The name nearest to a wished one that may stand. */
  suggestName(wished: string): string;
  /** Where entries are called by their place: the name of the one behind these. */
  nextName?(taken: ReadonlySet<string>): string;
  readonly hasFolders: boolean;
  /** What its directory has a place for and can be changed of a file that is there. */
  readonly keeps: readonly KeptAttribute[];
  /** Units that a file of so many bytes costs, without what its directory may need. */
  cost(bytes: number, type?: string): number;
  room(): Room;
  /** Adds a file, or replaces the one of that path. */
  put(path: string, bytes: Uint8Array, attributes?: FileAttributes): void;
  remove(path: string): void;
  /** Within its folder; `name` is the last part only. */
  rename(path: string, name: string): void;
  makeFolder(path: string, attributes?: Pick<FileAttributes, 'modified'>): void;
  setAttributes(path: string, attributes: FileAttributes): void;
}

/**
 * Refuses a name that can't stand, or that another entry has: the one at `there`, where the entry
 * itself is at `own`.
 */
export function refuseNewName(
  volume: Pick<WritableVolume, 'refuseName'>,
  name: string,
  there: number | null,
  own: number | null = null,
): void {
  const refused = volume.refuseName(name);
  if (refused) throw new VolumeRefusal('name', refused);
  if (there !== null && there !== own)
    throw new VolumeRefusal('exists', said('volume.thereIsAAlready', { name }));
}

/** Letters without marks, in capitals; what has no counterpart is the replacement. */
export function plainCapitals(text: string, allowed: RegExp, replacement: string): string {
  const plain = text
    .normalize('NFD')
    .replace(/\p{M}+/gu, '')
    .toUpperCase()
    .replaceAll('ß', 'SS')
    .replaceAll('Æ', 'AE')
    .replaceAll('Ø', 'O');
  return [...plain].map((char) => (allowed.test(char) ? char : replacement)).join('');
}

/** Parts of a path; refuses empty ones. */
export function partsOfPath(path: string): string[] {
  const parts = path.split('/');
  if (parts.some((part) => part === ''))
    throw new VolumeRefusal('name', said('volume.isNoPath', { path }));
  return parts;
}
