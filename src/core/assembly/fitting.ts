/**
 * What files would be on a volume before they are put there: their names as it allows them, none
 * twice, what each costs, and which do not fit.
 */
import { partsOfPath, type WritableVolume } from '../volume/writable';
import { said, type Said } from '@/core/said';

interface Wished {
  /** As it was called where it comes from. */
  name: string;
  bytes: number;
  type?: string;
}

interface Fitted {
  /** Its path on the volume. */
  path: string;
  /** Why it is called otherwise than wished; null where it is not. */
  renamed: Said | null;
  /** In the volume's own units. */
  cost: number;
  fits: boolean;
}

const MAX_NUMBERS = 9999;

/**
 * A number put where the name still may stand with it: before the dot, in place of the last
 * letters.
 */
function numbered(volume: WritableVolume, name: string, n: number): string {
  const dot = name.lastIndexOf('.');
  const [stem, end] = dot > 0 ? [name.slice(0, dot), name.slice(dot)] : [name, ''];
  for (let kept = stem.length; kept > 0; kept--) {
    const tried = `${stem.slice(0, kept)}${n}${end}`;
    if (volume.refuseName(tried) === null) return tried;
  }
  return volume.suggestName(`F${n}${end}`);
}

/**
 * Fits files into a folder (`''` for the root), in their order, beside what is taken there; the
 * volume is not changed.
 */
export function fitFiles(
  volume: WritableVolume,
  folder: string,
  taken: ReadonlySet<string>,
  wished: readonly Wished[],
): Fitted[] {
  const names = new Set(taken);
  const { free, entries } = volume.room();
  let left = free;
  let slots = folder === '' ? entries : Infinity;
  return wished.map(({ name: own, bytes, type }) => {
    const refused = volume.refuseName(own);
    let name = volume.nextName?.(names) ?? (refused === null ? own : volume.suggestName(own));
    let renamed = volume.nextName ? said('volume.isCalledByItsPlace') : refused;
    for (let n = 2; names.has(name) && n <= MAX_NUMBERS; n++) {
      renamed = said('volume.thereIsAAlready', { name });
      name = numbered(volume, refused === null ? own : volume.suggestName(own), n);
      if (!names.has(name)) break;
    }
    names.add(name);
    const cost = volume.cost(bytes, type);
    const fits = cost <= left && slots > 0;
    if (fits) {
      left -= cost;
      slots--;
    }
    return {
      path: folder === '' ? name : `${folder}/${name}`,
      renamed: name === own ? null : renamed,
      cost,
      fits,
    };
  });
}

interface GatheredVolume {
  /** What it is called by: a code, a label. */
  title: string;
  files: readonly (Wished & { id: number })[];
}

interface Gathered {
  /** Folders to be made, in order. */
  folders: string[];
  files: { id: number; path: string; renamed: Said | null }[];
  /** Files that find no room. */
  left: { id: number; title: string; name: string; bytes: number }[];
}

/**
 * Many small volumes on one large one: a folder for each, or where the volume has none, its title
 * before each name.
 */
export function gather(
  volume: WritableVolume,
  taken: ReadonlySet<string>,
  volumes: readonly GatheredVolume[],
  how: 'folders' | 'prefixes',
): Gathered {
  const out: Gathered = { folders: [], files: [], left: [] };
  const names = new Set(taken);
  let { free, entries } = volume.room();
  for (const { title, files } of volumes) {
    const inFolder = how === 'folders' && volume.hasFolders;
    let folder = '';
    if (inFolder) {
      const [fitted] = fitFiles(volume, '', names, [{ name: title, bytes: 0 }]);
      folder = fitted!.path;
      names.add(folder);
      out.folders.push(folder);
      entries--;
      // A folder costs a unit of its own at least.
      free -= Math.max(1, volume.cost(1));
    }
    const own = inFolder ? new Set<string>() : names;
    const wished = files.map(({ name, bytes, type }) => ({
      name: inFolder ? name : `${title.slice(0, 4)}${name}`,
      bytes,
      type,
    }));
    for (const [i, fitted] of fitFiles(volume, folder, own, wished).entries()) {
      const { id, name, bytes } = files[i]!;
      if (fitted.cost > free || (!inFolder && entries <= 0)) {
        out.left.push({ id, title, name, bytes });
        continue;
      }
      free -= fitted.cost;
      if (!inFolder) {
        entries--;
        names.add(fitted.path);
      }
      out.files.push({ id, path: fitted.path, renamed: fitted.renamed });
    }
  }
  return out;
}

/** Folders that a path needs and that are not there yet, outermost first. */
export function foldersFor(path: string, there: ReadonlySet<string>): string[] {
  const parts = partsOfPath(path).slice(0, -1);
  return parts
    .map((_, i) => parts.slice(0, i + 1).join('/'))
    .filter((folder) => !there.has(folder));
}
