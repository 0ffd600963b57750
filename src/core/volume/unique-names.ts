/**
 * Paths that stand beside one another on any of today's systems: no two alike, also where case is
 * folded.
 */
import { safeName } from './safe-name';

export class UniqueNames {
  private readonly taken = new Set<string>();

  /** The path made safe part by part, with ` (2)` and so on where it is taken. */
  pathOf(path: string): string {
    const safe = path.split('/').map(safeName).join('/');
    const slash = safe.lastIndexOf('/');
    const dot = safe.lastIndexOf('.');
    const [stem, extension] = dot > slash + 1 ? [safe.slice(0, dot), safe.slice(dot)] : [safe, ''];
    let free = safe;
    for (let count = 2; this.taken.has(free.toLowerCase()); count++)
      free = `${stem} (${count})${extension}`;
    this.taken.add(free.toLowerCase());
    return free;
  }
}
