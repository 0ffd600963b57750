/**
 * Paths that stand beside one another on any of today's systems: no two alike, also where case is
 * folded.
 */
import { safeName } from './safe-name';

/** What some system takes for one name: whatever case, however its accents are put together. */
const folded = (path: string): string =>
  path.normalize('NFC').toUpperCase().toLowerCase().normalize('NFC');

export class UniqueNames {
  private readonly taken = new Set<string>();
  /** Folders as they were written first, by what they are taken for. */
  private readonly folders = new Map<string, string>();

  /** The path made safe part by part, with ` (2)` and so on where it is taken. */
  pathOf(path: string): string {
    const parts = path.split('/').map(safeName);
    const name = parts.pop()!;
    const dot = name.lastIndexOf('.');
    const [stem, extension] = dot > 0 ? [name.slice(0, dot), name.slice(dot)] : [name, ''];
    return this.free(
      parts.reduce((folder, part) => this.folderIn(folder, part), '') + stem,
      extension,
    );
  }

  /** A new folder, as no other is called; without a slash at its end. */
  folderOf(name: string): string {
    const folder = this.free(safeName(name), '');
    this.folders.set(folded(folder), `${folder}/`);
    return folder;
  }

  /** With a slash at its end; two that some system takes for one are one. */
  private folderIn(folder: string, part: string): string {
    const wanted = folded(folder + part);
    const known = this.folders.get(wanted) ?? `${this.free(folder + part, '')}/`;
    this.folders.set(wanted, known);
    return known;
  }

  private free(stem: string, extension: string): string {
    let free = stem + extension;
    for (let count = 2; this.taken.has(folded(free)); count++)
      free = `${stem} (${count})${extension}`;
    this.taken.add(folded(free));
    return free;
  }
}
