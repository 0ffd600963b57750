/** The volume of an image, opened to be changed in place. */
import { memorySource, type ByteSource } from '../bits/byte-source';
import { WritableCpm } from '../volume/cpm/write';
import { familyOf } from '../volume/families';
import { WritableGranule } from '../volume/granule/write';
import { SIXTEEN_SECTOR_BYTES, turnedBytes } from '../volume/sixteen-sector-order';
import type { Volume } from '../volume/volume';
import { openWavesample } from '../volume/wavesample/read';
import { WritableWavesample } from '../volume/wavesample/write';
import type { WritableVolume } from '../volume/writable';
import type { BlankId } from './blank-kinds';
import { candidatesOf, IN_OTHER_ORDER } from './identify';
import { CPM_8_INCH } from './make-blank';

type Opened = WritableVolume | null;

/**
 * A volume in the other order of sectors: changed as its own system sees it, kept as the image is.
 */
async function turned(
  image: Uint8Array,
  open: (image: Uint8Array) => Opened | Promise<Opened>,
): Promise<Opened> {
  const own = turnedBytes(image);
  const volume = await open(own);
  if (!volume) return null;
  const after =
    <A extends unknown[]>(work: (...args: A) => void) =>
    (...args: A) => {
      work(...args);
      image.set(turnedBytes(own));
    };
  return {
    filesystem: volume.filesystem,
    image,
    hasFolders: volume.hasFolders,
    keeps: volume.keeps,
    refuseName: (name) => volume.refuseName(name),
    suggestName: (wished) => volume.suggestName(wished),
    cost: (bytes, type) => volume.cost(bytes, type),
    room: () => volume.room(),
    put: after(volume.put.bind(volume)),
    remove: after(volume.remove.bind(volume)),
    rename: after(volume.rename.bind(volume)),
    makeFolder: after(volume.makeFolder.bind(volume)),
    setAttributes: after(volume.setAttributes.bind(volume)),
  };
}

/** Blanks that nothing on them tells what they are: their kind must be said. */
const OPEN_BLANK: Partial<Record<BlankId, (image: Uint8Array) => WritableVolume>> = {
  'cpm-8': (image) => new WritableCpm(image, CPM_8_INCH),
  granule: (image) => new WritableGranule(image),
  wavesample: (image) => new WritableWavesample(image),
};

/** And of these, those that have folders before anything is on them. */
const READ_BLANK: Partial<Record<BlankId, (source: ByteSource) => Promise<Volume>>> = {
  wavesample: openWavesample,
};

/** What an image has on it that was begun as a blank of this kind; null where its content tells it. */
export async function volumeOfBlank(source: ByteSource, kind: string): Promise<Volume | null> {
  return (await READ_BLANK[kind as BlankId]?.(source)) ?? null;
}

/** Below this nothing is written to: what it is must be certain. */
const CERTAIN = 0.6;

/**
 * The volume of an image, to be changed in place; null where none is known that can be. Throws
 * VolumeRefusal where it is damaged. `kind` says what a blank without any content is.
 */
export async function writableVolume(
  image: Uint8Array,
  kind: string | null = null,
): Promise<WritableVolume | null> {
  const blank = kind === null ? undefined : OPEN_BLANK[kind as BlankId];
  if (blank) return blank(image);
  const [best] = await candidatesOf(memorySource(image));
  if (!best || best.confidence < CERTAIN) return null;
  const family = familyOf(best.filesystem);
  const open = (own: Uint8Array) => family?.writable?.(own, best.filesystem) ?? null;
  const isTurned =
    image.length === SIXTEEN_SECTOR_BYTES &&
    best.reasons.some(({ code }) => code === IN_OTHER_ORDER.code);
  return isTurned ? turned(image, open) : open(image);
}
