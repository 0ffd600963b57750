/** From one kind of image to another, with a list of what the other kind can't say. */
import { isSound } from '../reading/grades';
import type { TrackSector } from '../reading/track-sector';
import type { Layout } from '../layout/layout';
import type { FlatImage } from './flat';
import { STATUS_GOOD, kindsOf, type ImageKind, type SectorImage } from './kinds';
import { said, type Said } from '@/core/said';

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
): Said[] {
  const losses: Said[] = [];
  const say = (n: number, what: Said) => {
    if (n > 0) losses.push(said('image.sectorsThat', { n, what }));
  };
  say(
    image.places.filter(({ sector }) => !sector || !isSound(sector.grade)).length,
    said('image.withoutSoundBytesZeros'),
  );
  say(image.kept.length, said('image.withNoPlaceIn'));
  say(sectors.filter(({ deleted }) => deleted).length, said('image.withADeletedData'));
  say(
    sectors.filter(({ remarks }) => remarks.some(({ kind }) => kind === 'as-made')).length,
    said('image.thatMayBeAs'),
  );
  if (strange.length > 0)
    losses.push(said('image.withAnotherFormatThan', { strange: strange.length }));
  return losses;
}

type Conversion = { bytes: Uint8Array; losses: Said[] } | { refusal: Said };

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
      refusal: said('image.cantBeWrittenAs', {
        image: describeImage(image),
        kind,
        possible: possible.join(', '),
      }),
    };
  const losses: Said[] = [];
  const bad = image.status ? image.status.filter((status) => status !== STATUS_GOOD).length : 0;
  if (bad > 0 && !(withStatus && (kind === 'd64' || kind === 'd71')))
    losses.push(said('image.thatSayWhyA', { bad }));
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
}): Said {
  return said('image.anImageOfKind', {
    kind,
    what: layout
      ? said('image.layout', { id: layout.id })
      : said('image.bytes', { bytes: bytes.length }),
  });
}
