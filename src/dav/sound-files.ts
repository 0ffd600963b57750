/** Sounds of an image in a tree: a WAV for each sample, an SFZ for each program. */
import type { Digester } from '@/core/digester';
import type { Sounding } from '@/core/sound/sounds-of';
import { bytesOf, fileOf, TakingOut } from '@/core/sound/taken-out';
import type { UniqueNames } from '@/core/volume/unique-names';
import type { OfImage } from './image-tree';
import { typeOfOwn } from './media-type';
import { partOf, type TreeFile } from './tree';

/** Below the folder `sounds`, as they are taken out: what an SFZ names lies beside it. */
export function soundFiles(
  sounding: readonly Sounding[],
  names: UniqueNames,
  { of: { tag, modified }, digester }: { of: OfImage; digester: Digester },
): TreeFile[] {
  const takingOut = new TakingOut();
  const taken = sounding.flatMap(({ volume, sounds }) =>
    sounds.folders.flatMap((folder) => [...takingOut.filesOf(volume, folder)]),
  );
  return taken.map((each, i) => {
    const path = names.pathOf(`sounds/${each.file}`);
    return {
      ...{ path, size: bytesOf(each), type: typeOfOwn(path), modified, tag: `${tag}-s${i}` },
      stream: (start, end) => partOf(fileOf(each, digester).bytes, start, end),
    };
  });
}
