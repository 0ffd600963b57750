/** The card beside an image: what a flat image can't say. Its JSON Schema is `docs/formats/card.schema.json`. */
import { toHex, type Digester } from '../digester';
import { bytesOfSizeCode, bytesPerTrack, sectorPlaces, type Layout } from '../layout/layout';
import type { Problem } from '../problems';
import { isSound, tallyOf, type Tally } from '../reading/grades';
import type { Mending, TrackSector } from '../reading/merge';
import type { FlatImage } from './flat';

export const CARD_FORMAT = 'frail-spindle-card';

export interface CardSector {
  cylinder: number;
  head: number;
  /** As recorded; of a lost or unread sector as the layout expects. */
  c: number;
  h: number;
  r: number;
  n: number;
  size: number;
  deleted: boolean;
  grade: TrackSector['grade'];
  sha256: string | null;
  mending?: Mending;
  /** Reading of the track (from 0), pass, and turn that supplied the bytes. */
  source?: { reading: number; pass: number; turn: number };
  /** Bytes that a doubtful sector had, as hexadecimal: evidence, not content. */
  keptBytes?: string;
}

export interface Card {
  format: typeof CARD_FORMAT;
  version: 1;
  layout: string;
  image: { bytes: number; sha256: string; order: 'cylinder, head, number' };
  tally: Tally;
  /** Byte ranges of the image that no sound sector fills, and what stands there. */
  filledIn: { offset: number; length: number; cylinder: number; head: number; r: number; with: 'zeros' | 'doubtful bytes' }[];
  /** ID fields whose cylinder or head is not where they lie, and deleted-data marks. */
  oddities: { cylinder: number; head: number; r: number; what: string }[];
  /** Sectors with no place in the image: repeated, of another size or number, or outside the layout. */
  apart: CardSector[];
  sectors: CardSector[];
  passes: number[];
  problems: Problem[];
  description?: Record<string, string>;
}

/** One sector as it stands in cards and in the command line's JSON. */
export function cardSector(sector: TrackSector, digester: Digester): CardSector {
  const { cylinder, head, c, h, r, n, size, deleted, grade, data, mending, source } = sector;
  return {
    cylinder, head, c, h, r, n, size, deleted, grade, sha256: data && isSound(grade) ? toHex(digester.sha256(data)) : null,
    ...(mending && { mending }),
    ...(source && isSound(grade) && { source: { reading: source.reading, pass: source.pass, turn: source.turn } }),
    ...(grade === 'doubtful' && data && { keptBytes: toHex(data) }),
  };
}

function odditiesOf(sectors: readonly TrackSector[]): Card['oddities'] {
  const odd: Card['oddities'] = [];
  for (const { cylinder, head, c, h, r, deleted, grade, mark } of sectors) {
    if (grade === 'lost' || grade === 'unread') continue;
    if (c !== cylinder) odd.push({ cylinder, head, r, what: `recorded cylinder is ${c}` });
    if (h !== head) odd.push({ cylinder, head, r, what: `recorded head is ${h}` });
    if (deleted) odd.push({ cylinder, head, r, what: 'deleted-data mark' });
    if (mark === 0xf9 || mark === 0xfa) odd.push({ cylinder, head, r, what: `data mark ${mark.toString(16).toUpperCase()}h` });
  }
  return odd;
}

function filledIn(layout: Layout, image: FlatImage, keepDoubtful: boolean): Card['filledIn'] {
  const places = sectorPlaces(layout);
  const perTrack = bytesPerTrack(layout);
  return image.filled.flatMap((sector, slot) => {
    if (sector && isSound(sector.grade)) return [];
    const track = Math.floor(slot / places.length);
    const { r, n, offset } = places[slot % places.length]!;
    const kept = keepDoubtful && sector?.data;
    return [{
      offset: track * perTrack + offset, length: bytesOfSizeCode(n), r,
      cylinder: Math.floor(track / layout.heads), head: track % layout.heads, with: kept ? 'doubtful bytes' as const : 'zeros' as const,
    }];
  });
}

/** The card of an image built from `sectors` (all of the layout, with those lost and unread). */
export function buildCard(
  layout: Layout, image: FlatImage, sectors: readonly TrackSector[], problems: readonly Problem[], digester: Digester,
  options: { keepDoubtful?: boolean; description?: Record<string, string> } = {},
): Card {
  return {
    format: CARD_FORMAT, version: 1, layout: layout.id,
    image: { bytes: image.bytes.length, sha256: toHex(digester.sha256(image.bytes)), order: 'cylinder, head, number' },
    tally: tallyOf(sectors.map(({ grade }) => grade)),
    filledIn: filledIn(layout, image, options.keepDoubtful ?? false),
    oddities: odditiesOf(sectors),
    apart: image.kept.map((sector) => cardSector(sector, digester)),
    sectors: sectors.map((sector) => cardSector(sector, digester)),
    passes: [...new Set(sectors.flatMap(({ source }) => (source ? [source.pass] : [])))].sort((a, b) => a - b),
    problems: [...problems],
    ...(options.description && { description: options.description }),
  };
}
