/** The shelf of the simulated bench: a folder with one JSON file a medium, images beside them. */
import { existsSync, mkdirSync, readFileSync, readdirSync } from 'node:fs';
import { basename, join } from 'node:path';
import { BlockMediumFile, BlockMediumInDrive } from './block-medium';
import { Medium, MediumFile } from './medium';

export type OnShelf = Medium | BlockMediumInDrive;

const TRACKS = '.medium.json';
const BLOCKS = '.device.json';

export class Shelf {
  private readonly media = new Map<string, OnShelf>();

  constructor(private readonly folder: string) {
    mkdirSync(join(folder, 'written'), { recursive: true });
  }

  /** All media; files put there since are found too. */
  all(): OnShelf[] {
    for (const name of readdirSync(this.folder)
      .filter((each) => each.endsWith(TRACKS) || each.endsWith(BLOCKS))
      .sort()) {
      if (this.media.has(name)) continue;
      const json: unknown = JSON.parse(readFileSync(join(this.folder, name), 'utf8'));
      if (name.endsWith(BLOCKS)) {
        const file = BlockMediumFile.parse(json);
        this.media.set(
          name,
          new BlockMediumInDrive(
            file,
            this.imageOf(name, file.image),
            join(this.folder, 'written', name.replace(BLOCKS, '.blocks')),
          ),
        );
      } else {
        const file = MediumFile.parse(json);
        this.media.set(
          name,
          new Medium(
            file,
            this.imageOf(name, file.recorded?.image ?? null),
            join(this.folder, 'written', name.replace(TRACKS, '.fsflux')),
          ),
        );
      }
    }
    return [...this.media.values()];
  }

  private imageOf(name: string, image: string | null): string | null {
    const path = image && join(this.folder, basename(image));
    if (path && !existsSync(path))
      throw new Error(`${name}: its image ${image} is not on the shelf`);
    return path;
  }

  find(label: string): OnShelf | undefined {
    return this.all().find(({ file }) => file.label === label);
  }
}
