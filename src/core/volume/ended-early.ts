/** Files whose places are all there, and whose bytes end early when they are read. */
import type { Problem } from '../problems';
import { said } from '../said';
import type { VolumeEntry } from './volume';

/** Paths that are named; the rest is counted. */
const NAMED = 8;

export class EndedEarly {
  private readonly paths: string[] = [];
  private more = 0;

  add({ path }: VolumeEntry): void {
    if (this.paths.length < NAMED) this.paths.push(path);
    else this.more++;
  }

  problems(): Problem[] {
    const { paths, more } = this;
    if (paths.length === 0) return [];
    const what = said('volume.packedDataIsDamaged', { paths, more });
    return [{ kind: 'packed-data-damaged', offset: null, said: what }];
  }
}
