/**
 * Layouts as JSON: what archivists import, export and give to the command line.
 * `docs/formats/layouts.md` is the
 * specification. A file is checked as data first, then for sense: every track has one format, and
 * what is laid down
 * fits the turn.
 */
import { z } from 'zod';
import { encodingOf } from '../encoding';
import { LAYOUT_FORMAT } from './layout-json';
import {
  ENCODING_IDS,
  hasFullIds,
  recordedId,
  sectorsInOrder,
  sizeCode,
  turnCells,
  type LaidSector,
  type Layout,
  type TrackGaps,
  type TrackRule,
} from './layout';

const LIMITS = { cylinders: 256, heads: 2, sectors: 255, bytes: 16384, gap: 20_000 } as const;

const gap = z.int().min(0).max(LIMITS.gap);
const Gaps = z
  .strictObject({
    postIndex: gap,
    indexMark: z.boolean(),
    afterIndexMark: gap,
    syncBytes: gap,
    idToData: gap,
    afterData: gap,
  })
  .partial();
const number = z.int().min(0).max(255);
const bytes = z.int().min(1).max(LIMITS.bytes);
const head = z.int().min(0).max(1);

const Sectors = z.union(
  [
    z.strictObject({ first: number.default(1), count: z.int().min(1).max(LIMITS.sectors), bytes }),
    z
      .array(z.strictObject({ r: number, bytes }))
      .min(1)
      .max(LIMITS.sectors),
  ],
  'say the sectors as {"first", "count", "bytes"}, or as a list of {"r", "bytes"}',
);

const Track = z.strictObject({
  cylinders: z.tuple([z.int().min(0), z.int().min(0)]),
  heads: z.array(head).min(1).max(2).optional(),
  encoding: z.enum(ENCODING_IDS),
  rateKbps: z.number().min(50).max(2000),
  sectors: Sectors,
  interleave: z.int().min(1).max(64).default(1),
  skew: z.int().min(0).max(64).optional(),
  headSkew: z.int().min(0).max(64).optional(),
  gaps: Gaps.default({}),
});

export const LayoutFile = z.strictObject({
  format: z.literal(LAYOUT_FORMAT),
  version: z.literal(1),
  id: z
    .string()
    .regex(
      /^[a-z0-9][a-z0-9+.-]{0,59}$/,
      'an id is 1 to 60 small letters, digits, "-", "+" and "."',
    ),
  title: z.string().max(200).optional(),
  forms: z.array(z.enum(['8', '5.25', '3.5'])).min(1),
  cylinders: z.int().min(1).max(LIMITS.cylinders),
  heads: z.int().min(1).max(LIMITS.heads),
  rpm: z.number().min(100).max(1000),
  stepping: z.enum(['single', 'double']).default('single'),
  firstCylinder: z.int().min(0).max(255).default(0),
  recordedHeads: z.array(z.int().min(0).max(255)).min(1).max(2).optional(),
  imageHeads: z.array(head).min(1).max(2).optional(),
  imageBy: z.enum(['cylinder', 'head']).default('cylinder'),
  imageSectors: z.array(number).min(1).max(LIMITS.sectors).optional(),
  tracks: z.array(Track).min(1).max(LIMITS.cylinders),
});
export type LayoutFile = z.input<typeof LayoutFile>;

const DEFAULT_GAPS: Record<(typeof ENCODING_IDS)[number], TrackGaps> = {
  fm: {
    postIndex: 40,
    indexMark: true,
    afterIndexMark: 26,
    syncBytes: 6,
    idToData: 11,
    afterData: 27,
  },
  mfm: {
    postIndex: 80,
    indexMark: true,
    afterIndexMark: 50,
    syncBytes: 12,
    idToData: 22,
    afterData: 54,
  },
  'gcr-4to5': {
    postIndex: 8,
    indexMark: false,
    afterIndexMark: 0,
    syncBytes: 5,
    idToData: 9,
    afterData: 8,
  },
  'gcr-6and2': {
    postIndex: 16,
    indexMark: false,
    afterIndexMark: 0,
    syncBytes: 0,
    idToData: 6,
    afterData: 12,
  },
};

/** Numbered sectors laid every `interleave` places round the turn, as far as places are free. */
function interleaved(sectors: readonly LaidSector[], interleave: number): LaidSector[] {
  const places: (LaidSector | undefined)[] = new Array(sectors.length).fill(undefined);
  let at = 0;
  for (const sector of sectors) {
    while (places[at]) at = (at + 1) % places.length;
    places[at] = sector;
    at = (at + interleave) % places.length;
  }
  return places as LaidSector[];
}

function fromFile(file: z.output<typeof LayoutFile>): Layout {
  const {
    recordedHeads,
    imageHeads,
    tracks,
    id,
    title,
    forms,
    cylinders,
    rpm,
    stepping,
    firstCylinder,
    imageBy,
    imageSectors,
  } = file;
  const heads = Array.from({ length: file.heads }, (_, i) => i);
  return {
    id,
    ...(title && { title }),
    forms,
    cylinders,
    heads: file.heads,
    rpm,
    stepping,
    firstCylinder,
    imageBy,
    ...(imageSectors && { imageSectors }),
    recordedHeads: recordedHeads ?? heads,
    imageHeads: imageHeads ?? heads,
    tracks: tracks.map(({ sectors, interleave, gaps, ...track }): TrackRule => {
      const list = Array.isArray(sectors)
        ? sectors
        : Array.from({ length: sectors.count }, (_, i) => ({
            r: sectors.first + i,
            bytes: sectors.bytes,
          }));
      return {
        ...track,
        sectors: interleaved(list, interleave),
        gaps: { ...DEFAULT_GAPS[track.encoding], ...gaps },
      };
    }),
  };
}

function* senseOf(layout: Layout): Generator<string> {
  yield* senseOfHeads(layout);
  for (const [i, rule] of layout.tracks.entries()) {
    yield* senseOfPlaces(layout, rule, `tracks[${i}]`);
    yield* senseOfSectors(layout, rule, `tracks[${i}]`);
  }
  yield* senseOfCover(layout);
}

type Rule = Layout['tracks'][number];

function* senseOfHeads(layout: Layout): Generator<string> {
  const { cylinders, heads, recordedHeads, imageHeads } = layout;
  if (recordedHeads.length !== heads)
    yield `recordedHeads: there are ${heads} heads, it says ${recordedHeads.length}`;
  const isEachOnce = imageHeads.length === heads && new Set(imageHeads).size === heads;
  if (!isEachOnce || imageHeads.some((each) => each >= heads))
    yield `imageHeads: name each of the ${heads} heads once`;
  if (cylinders - 1 + layout.firstCylinder > 255)
    yield 'firstCylinder: the innermost cylinder would be recorded as more than 255';
}

function* senseOfPlaces(
  { cylinders, heads }: Layout,
  { cylinders: [from, to], heads: only }: Rule,
  place: string,
): Generator<string> {
  if (from > to) yield `${place}.cylinders: ${from} to ${to} runs backwards`;
  if (to >= cylinders)
    yield `${place}.cylinders: there is no cylinder ${to}, the last is ${cylinders - 1}`;
  if (only?.some((each) => each >= heads))
    yield `${place}.heads: the disk has ${heads === 1 ? 'only head 0' : 'heads 0 and 1'}`;
}

function* senseOfSectors(
  { imageSectors }: Layout,
  { sectors, encoding }: Rule,
  place: string,
): Generator<string> {
  const numbers = sectors.map(({ r }) => r);
  const twice = numbers.find((r, at) => numbers.indexOf(r) !== at);
  if (twice !== undefined) yield `${place}.sectors: number ${twice} stands there twice`;
  const odd = sectors.find((sector) => sizeCode(sector.bytes) === null);
  if (hasFullIds(encoding) && odd)
    yield (
      `${place}.sectors: ${odd.bytes} bytes have no size code; 128, 256, 512, 1024 … ` +
      '16384 have'
    );
  if (!hasFullIds(encoding) && sectors.some((sector) => sector.bytes !== 256))
    yield `${place}.sectors: sectors of the group codes have 256 bytes`;
  if (!imageSectors) return;
  const isComplete = imageSectors.length === numbers.length;
  if (!isComplete || numbers.some((r) => !imageSectors.includes(r)))
    yield `imageSectors: name each sector number of ${place} once`;
}

/** The first track that has no format, or several. */
function* senseOfCover({ cylinders, heads, tracks }: Layout): Generator<string> {
  for (let cylinder = 0; cylinder < cylinders; cylinder++) {
    for (let head = 0; head < heads; head++) {
      const rules = tracks.filter(
        ({ cylinders: [from, to], heads: only }) =>
          cylinder >= from && cylinder <= to && (!only || only.includes(head)),
      );
      if (rules.length === 1) continue;
      const count = rules.length === 0 ? 'has no format' : `has ${rules.length} formats`;
      yield `tracks: cylinder ${cylinder}, head ${head} ${count}`;
      return;
    }
  }
}

/** Lays one track of each format out to see that it fits the turn. */
function* fitOf(layout: Layout): Generator<string> {
  for (const [i, format] of layout.tracks.entries()) {
    const [cylinder] = format.cylinders;
    const sectors = sectorsInOrder(format, cylinder, format.heads?.[0] ?? 0).map((sector) => ({
      ...recordedId(layout, format.encoding, cylinder, 0, sector),
      data: new Uint8Array(sector.bytes),
    }));
    try {
      encodingOf(format.encoding).encode(sectors, format, turnCells(format, layout.rpm));
    } catch (error) {
      yield `tracks[${i}]: ${(error as Error).message}`;
    }
  }
}

type ParsedLayout = { layout: Layout; problems: [] } | { layout: null; problems: string[] };

/** A layout from parsed JSON, or everything that is wrong with it, each as `where: what`. */
export function parseLayout(json: unknown): ParsedLayout {
  const parsed = LayoutFile.safeParse(json);
  if (!parsed.success) {
    return {
      layout: null,
      problems: parsed.error.issues.slice(0, 20).map(
        ({ path, message }) =>
          `${
            path.length > 0
              ? path
                  .map((part) => (typeof part === 'number' ? `[${part}]` : `.${String(part)}`))
                  .join('')
                  .replace(/^\./, '')
              : 'the file'
          }: ${message}`,
      ),
    };
  }
  const layout = fromFile(parsed.data);
  const senseless = [...senseOf(layout)];
  const problems = senseless.length > 0 ? senseless : [...fitOf(layout)];
  return problems.length > 0 ? { layout: null, problems } : { layout, problems: [] };
}
