/** The shelf of the simulated bench: a folder with one JSON file a medium, images beside them. */
import { existsSync, mkdirSync, readFileSync, readdirSync } from 'node:fs';
import { basename, join } from 'node:path';
import { Medium, MediumFile } from './medium';

export class Shelf {
  private readonly media = new Map<string, Medium>();

  constructor(private readonly folder: string) {
    mkdirSync(join(folder, 'written'), { recursive: true });
  }

  /** All media; files put there since are found too. */
  all(): Medium[] {
    for (const name of readdirSync(this.folder).filter((each) => each.endsWith('.medium.json')).sort()) {
      if (this.media.has(name)) continue;
      const file = MediumFile.parse(JSON.parse(readFileSync(join(this.folder, name), 'utf8')));
      const image = file.recorded && join(this.folder, basename(file.recorded.image));
      if (image && !existsSync(image)) throw new Error(`${name}: its image ${file.recorded?.image} is not on the shelf`);
      this.media.set(name, new Medium(file, image, join(this.folder, 'written', name.replace('.medium.json', '.fsflux'))));
    }
    return [...this.media.values()];
  }

  find(label: string): Medium | undefined {
    return this.all().find(({ file }) => file.label === label);
  }
}
