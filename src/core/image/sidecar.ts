/**
 * The sidecar beside an image: what a flat image can't say. Its JSON Schema is
 * `docs/formats/sidecar.schema.json`.
 */
import type { z } from 'zod';
import { toHex, type Digester } from '../digester';
import { formatAt, recordedId, type Layout } from '../layout/layout';
import type { Problem } from '../problems';
import { isSound, tallyOf } from '../reading/grades';
import type { Said } from '../said';
import type { TrackSector } from '../reading/track-sector';
import type * as SidecarSchema from './sidecar-schema';
import { imageOrder, type FlatImage } from './flat';

const SIDECAR_FORMAT = 'frail-spindle-sidecar';

export type Sidecar = z.infer<typeof SidecarSchema.Sidecar>;
type SidecarSector = Sidecar['sectors'][number];

/** Puts what there is to say into words: a sidecar is read where nobody knows our codes. */
type Tell = (said: Said) => string;

/** One sector as it stands in sidecars and in the command line's JSON. */
export function sidecarSector(sector: TrackSector, digester: Digester, tell: Tell): SidecarSector {
  const {
    cylinder,
    head,
    encoding,
    c,
    h,
    r,
    n,
    idExtra,
    size,
    deleted,
    grade,
    data,
    mending,
    remarks,
    source,
    why,
  } = sector;
  return {
    cylinder,
    head,
    encoding,
    c,
    h,
    r,
    n,
    ...(idExtra && { idExtra: { ...idExtra } }),
    size,
    deleted,
    grade,
    sha256: data && isSound(grade) ? toHex(digester.sha256(data)) : null,
    ...(mending && { mending }),
    ...(remarks.length > 0 && {
      remarks: remarks.map((remark) => ({ ...remark, what: tell(remark.what) })),
    }),
    ...(source &&
      isSound(grade) && {
        source: {
          reading: source.reading,
          pass: source.pass,
          turn: source.turn,
          recovery: source.recovery,
          why: tell(why),
        },
      }),
    ...(grade === 'doubtful' && data && { keptBytes: toHex(data) }),
  };
}

function odditiesOf(
  layout: Layout,
  stepping: number,
  sectors: readonly TrackSector[],
): Sidecar['oddities'] {
  const odd: Sidecar['oddities'] = [];
  for (const { cylinder, head, c, h, r, size, encoding, deleted, grade, mark } of sectors) {
    if (grade === 'lost' || grade === 'unread') continue;
    const say = (what: string) => odd.push({ cylinder, head, r, what });
    const format = formatAt(layout, cylinder / stepping, head);
    const expected = recordedId(layout, format?.encoding ?? encoding, cylinder / stepping, head, {
      r,
      bytes: size,
    });
    if (c !== expected.c) say(`recorded cylinder is ${c}`);
    if (h !== null && h !== expected.h) say(`recorded head is ${h}`);
    if (deleted) say('deleted-data mark');
    if (mark === 0xf9 || mark === 0xfa) say(`data mark ${mark.toString(16).toUpperCase()}h`);
  }
  return odd;
}

export function filledIn(image: FlatImage, keepDoubtful: boolean): Sidecar['filledIn'] {
  return image.places.flatMap(({ sector, offset, bytes, cylinder, head, r }) => {
    if (sector && isSound(sector.grade)) return [];
    return [
      {
        offset,
        length: bytes,
        cylinder,
        head,
        r,
        with: keepDoubtful && sector?.data ? ('doubtful bytes' as const) : ('zeros' as const),
      },
    ];
  });
}

interface SidecarOptions {
  keepDoubtful?: boolean;
  stepping?: 1 | 2;
  strange?: readonly { cylinder: number; head: number; what: Said }[];
  acceptedLosses?: string[];
  description?: Record<string, string>;
}

/** The sidecar of an image built from `sectors` (all of the layout, with those lost and unread). */
/** The passes that sectors were taken from, in order. */
const passesOf = (sectors: readonly TrackSector[]): number[] => {
  const passes = sectors.flatMap(({ source }) => (source ? [source.pass] : []));
  return [...new Set(passes)].sort((a, b) => a - b);
};

const imageFacts = (layout: Layout, bytes: Uint8Array, digester: Digester) => ({
  bytes: bytes.length,
  sha256: toHex(digester.sha256(bytes)),
  order: imageOrder(layout),
});

export function buildSidecar(
  layout: Layout,
  image: FlatImage,
  sectors: readonly TrackSector[],
  problems: readonly Problem[],
  digester: Digester,
  tell: Tell,
  options: SidecarOptions = {},
): Sidecar {
  const { keepDoubtful = false, stepping = 1, strange = [], acceptedLosses, description } = options;
  return {
    format: SIDECAR_FORMAT,
    version: 1,
    layout: layout.id,
    image: imageFacts(layout, image.bytes, digester),
    tally: tallyOf(sectors.map(({ grade }) => grade)),
    filledIn: filledIn(image, keepDoubtful),
    oddities: odditiesOf(layout, stepping, sectors),
    strange: strange.map((each) => ({ ...each, what: tell(each.what) })),
    apart: image.kept.map((sector) => sidecarSector(sector, digester, tell)),
    sectors: sectors.map((sector) => sidecarSector(sector, digester, tell)),
    passes: passesOf(sectors),
    problems: problems.map(({ kind, said, offset }) => ({ kind, message: tell(said), offset })),
    ...(acceptedLosses?.length && { acceptedLosses }),
    ...(description && { description }),
  };
}
