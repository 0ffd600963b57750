/** The files of a bag that came as a tar, each to be read where it lies. */
import type { ByteSource } from '@/core/bits/byte-source';
import { beginsAsTar, memberSource, tarListing } from '@/core/packing/tar';

const HEAD = 512;
const DECLARATION = 'bagit.txt';

export interface BagFiles {
  /** By their paths in the bag. */
  files: ReadonlyMap<string, ByteSource>;
  /** The bag's own folder; empty where it has none. */
  folder: string;
  /** Whether the archive came to its end. */
  isWhole: boolean;
}

/**
 * The folder that a declaration stands in, at the top or one below; of a tar that breaks off, as the
 * declaration may stand behind that, the one that a payload stands in.
 */
function folderOfBag(paths: readonly string[], isWhole: boolean): string | null {
  const declared = paths
    .filter((path) => path === DECLARATION || /^[^/]+\/bagit\.txt$/.test(path))
    .sort((a, b) => a.length - b.length)[0];
  if (declared !== undefined) return declared.slice(0, -DECLARATION.length);
  const [, folder = null] = (!isWhole && /^((?:[^/]+\/)?)data\//.exec(paths[0] ?? '')) || [];
  return folder;
}

const withoutDot = (path: string): string => path.replace(/^(\.\/)+/, '');

/** Null of what is no tar, or has no bag in it. */
export async function bagFilesIn(source: ByteSource): Promise<BagFiles | null> {
  if (!beginsAsTar(await source.read(0, HEAD))) return null;
  const { members, isWhole } = await tarListing(source);
  const found = members
    .filter(({ type }) => type === 'file')
    .map((member) => ({ path: withoutDot(member.path), member }));
  const folder = folderOfBag(
    found.map(({ path }) => path),
    isWhole,
  );
  if (folder === null) return null;
  const files = found
    .filter(({ path }) => path.startsWith(folder))
    .map(({ path, member }) => [path.slice(folder.length), memberSource(source, member)] as const);
  return { files: new Map(files), folder: folder.slice(0, -1), isWhole };
}
