/**
 * The card beside an image: what a flat image can't say. Its JSON Schema is
 * `docs/formats/card.schema.json`.
 */
import type { z } from 'zod';
import { toHex, type Digester } from '../digester';
import { formatAt, recordedId, type Layout } from '../layout/layout';
import type { Problem } from '../problems';
import { isSound, tallyOf } from '../reading/grades';
import type { TrackSector } from '../reading/track-sector';
import type * as CardSchema from './card-schema';
import { imageOrder, type FlatImage } from './flat';

const CARD_FORMAT = 'frail-spindle-card';

export type Card = z.infer<typeof CardSchema.Card>;
type CardSector = Card['sectors'][number];

/** One sector as it stands in cards and in the command line's JSON. */
export function cardSector(sector: TrackSector, digester: Digester): CardSector {
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
    ...(remarks.length > 0 && { remarks }),
    ...(source &&
      isSound(grade) && {
        source: {
          reading: source.reading,
          pass: source.pass,
          turn: source.turn,
          recovery: source.recovery,
          why,
        },
      }),
    ...(grade === 'doubtful' && data && { keptBytes: toHex(data) }),
  };
}

function odditiesOf(
  layout: Layout,
  stepping: number,
  sectors: readonly TrackSector[],
): Card['oddities'] {
  const odd: Card['oddities'] = [];
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

function filledIn(image: FlatImage, keepDoubtful: boolean): Card['filledIn'] {
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

interface CardOptions {
  keepDoubtful?: boolean;
  stepping?: 1 | 2;
  strange?: Card['strange'];
  acceptedLosses?: string[];
  description?: Record<string, string>;
}

/** The card of an image built from `sectors` (all of the layout, with those lost and unread). */
export function buildCard(
  layout: Layout,
  image: FlatImage,
  sectors: readonly TrackSector[],
  problems: readonly Problem[],
  digester: Digester,
  options: CardOptions = {},
): Card {
  const { keepDoubtful = false, stepping = 1, strange = [], acceptedLosses, description } = options;
  return {
    format: CARD_FORMAT,
    version: 1,
    layout: layout.id,
    image: {
      bytes: image.bytes.length,
      sha256: toHex(digester.sha256(image.bytes)),
      order: imageOrder(layout),
    },
    tally: tallyOf(sectors.map(({ grade }) => grade)),
    filledIn: filledIn(image, keepDoubtful),
    oddities: odditiesOf(layout, stepping, sectors),
    strange,
    apart: image.kept.map((sector) => cardSector(sector, digester)),
    sectors: sectors.map((sector) => cardSector(sector, digester)),
    passes: [...new Set(sectors.flatMap(({ source }) => (source ? [source.pass] : [])))].sort(
      (a, b) => a - b,
    ),
    problems: [...problems],
    ...(acceptedLosses?.length && { acceptedLosses }),
    ...(description && { description }),
  };
}
