/** From one kind of image to another, with a list of what the other kind can't say. */
import { isSound } from '../reading/grades';
import type { TrackSector } from '../reading/track-sector';
import type { Layout } from '../layout/layout';
import type { FlatImage } from './flat';
import { STATUS_GOOD, kindsOf, type ImageKind, type SectorImage } from './kinds';

const count = (n: number, one: string, many = `${one}s`) => `${n} ${n === 1 ? one : many}`;

/** Status bytes of a flat image of the zoned group code: why a sector did not read. */
export function statusBytes(image: FlatImage): Uint8Array {
  return Uint8Array.from(image.places, ({ sector }) => {
    if (!sector) return 0x02;
    if (isSound(sector.grade)) return STATUS_GOOD;
    return sector.mark === null ? 0x04 : 0x05;
  });
}

/** What a flat image of these sectors does not say; the sidecar beside it does. */
export function lossesOfSectors(
  sectors: readonly TrackSector[],
  image: FlatImage,
  strange: readonly unknown[],
): string[] {
  const losses: string[] = [];
  const say = (n: number, what: string) => {
    if (n > 0) losses.push(`${count(n, 'sector')} ${what}`);
  };
  say(
    image.places.filter(({ sector }) => !sector || !isSound(sector.grade)).length,
    'without sound bytes: zeros stand in their place',
  );
  say(image.kept.length, 'with no place in the image: repeated, or of another number or size');
  say(sectors.filter(({ deleted }) => deleted).length, 'with a deleted-data mark');
  say(
    sectors.filter(({ remarks }) => remarks.some(({ kind }) => kind === 'as-made')).length,
    'that may be as they were made',
  );
  if (strange.length > 0)
    losses.push(`${count(strange.length, 'track')} with another format than the rest`);
  return losses;
}

type Conversion = { bytes: Uint8Array; losses: string[] } | { refusal: string };

/** `image` as a file of `kind`. */
export function convertImage(
  image: SectorImage,
  kind: ImageKind,
  write: (image: SectorImage) => Uint8Array,
  withStatus: boolean,
): Conversion {
  const possible = kindsOf(image.layout);
  if (!possible.includes(kind))
    return {
      refusal:
        `${describeImage(image)} can't be written as ${kind}; it can be ` +
        `${possible.join(', ')}`,
    };
  const losses: string[] = [];
  const bad = image.status ? image.status.filter((status) => status !== STATUS_GOOD).length : 0;
  if (bad > 0 && !(withStatus && (kind === 'd64' || kind === 'd71')))
    losses.push(
      `${count(bad, 'status byte')} that say${bad === 1 ? 's' : ''} why a sector did not read`,
    );
  return { bytes: write(image), losses };
}

function describeImage({
  kind,
  layout,
  bytes,
}: {
  kind: ImageKind;
  layout: Layout | null;
  bytes: Uint8Array;
}): string {
  return `an image of kind ${kind}${layout ? `, layout ${layout.id}` : `, ${bytes.length} bytes`},`;
}
