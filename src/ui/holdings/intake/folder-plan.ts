/**
 * An older collection as it stands in folders: which files are images and captures, and which
 * pictures and texts belong to which of them.
 */
import { paperType } from '@/core/picture/browser-picture';

interface FoundFile {
  /** Below the folder that was dropped, with forward slashes. */
  path: string;
  /** Its first bytes. */
  head: Uint8Array;
}

/** `image` is an image or a capture for all that a page can tell; the server decides by content. */
type FileKind = 'image' | 'paper';

interface PlannedImage {
  path: string;
  setName: string;
  setNumber: number | null;
}
export interface PlannedPaper {
  path: string;
  /**
   * Path of the image that it lies beside, or the set that shares it; both null where no image is
   * near.
   */
  image: string | null;
  setName: string | null;
}

export const kindOf = ({ head }: FoundFile): FileKind =>
  paperType(head) === null ? 'image' : 'paper';

const folderOf = (path: string) => path.slice(0, Math.max(0, path.lastIndexOf('/')));
const stemOf = (path: string) =>
  path
    .slice(path.lastIndexOf('/') + 1)
    .replace(/\.[^.]*$/, '')
    .toLowerCase();

/**
 * Images of one folder are a set named after it; a paper with an image's name is that image's,
 * any other is shared by
 * the set of its folder, or of the nearest folder above or below that has one.
 */
export function planFolder(files: readonly FoundFile[]): {
  images: PlannedImage[];
  papers: PlannedPaper[];
} {
  const sorted = [...files].sort((a, b) => a.path.localeCompare(b.path, 'en', { numeric: true }));
  const imagePaths = sorted.filter((file) => kindOf(file) === 'image').map(({ path }) => path);
  const byFolder = new Map<string, string[]>();
  for (const path of imagePaths)
    byFolder.set(folderOf(path), [...(byFolder.get(folderOf(path)) ?? []), path]);
  const setOf = (folder: string) =>
    folder !== '' && (byFolder.get(folder)?.length ?? 0) > 1 ? folder : '';
  const near = (folder: string): string | null => {
    for (let at = folder; at !== ''; at = folderOf(at)) if (byFolder.has(at)) return at;
    return (
      [...byFolder.keys()]
        .filter((each) => folder === '' || each.startsWith(`${folder}/`))
        .sort((a, b) => a.split('/').length - b.split('/').length)[0] ?? null
    );
  };
  const images = imagePaths.map((path) => ({
    path,
    setName: setOf(folderOf(path)),
    setNumber: setOf(folderOf(path)) ? byFolder.get(folderOf(path))!.indexOf(path) + 1 : null,
  }));
  const papers = sorted
    .filter((file) => kindOf(file) === 'paper')
    .map(({ path }): PlannedPaper => {
      const folder = folderOf(path);
      const own = (byFolder.get(folder) ?? []).find((image) => stemOf(image) === stemOf(path));
      if (own) return { path, image: own, setName: null };
      const at = near(folder);
      if (at === null) return { path, image: null, setName: null };
      return setOf(at)
        ? { path, image: null, setName: at }
        : { path, image: byFolder.get(at)![0]!, setName: null };
    });
  return { images, papers };
}
