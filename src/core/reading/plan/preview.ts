/**
 * What the first tracks of a medium show, before the whole of it is read: the layout, how the
 * drive must step, which
 * heads, and how far there is anything to reach for.
 */
import type { FormFactor } from '@/core/flux/container';
import { describeFormat, describeLayout, type Layout } from '@/core/layout/layout';
import { formName } from '@/core/medium-form';
import { bestMatch, matchLayouts } from '@/core/layout/match';
import { evidenceOf } from '../decode/decode-capture';
import type { Range } from './plan';
import type { TrackDecode } from '../decode/track-decoder';
import { describeFound } from '../decode/track-formats';
import { eachOnce, said, type Said } from '@/core/said';

/** Cylinders looked at first: a drive that must step twice shows it on the third. */
const CYLINDERS = 5;

interface DriveRange {
  cylinders: number;
  heads: number;
}

/** A place on the ruler: how far to read, and what lies there. */
export interface Landmark {
  name: Said;
  /** Last head position, in the drive's own steps. */
  to: number;
}

export interface Preview {
  /** One sentence that asks: go? */
  sentence: Said;
  /** What it asks that of. */
  shows: Said;
  layout: string | null;
  range: Range;
  landmarks: Landmark[];
}

/** The tracks that a preview takes, in order. */
export function previewTracks({
  cylinders,
  heads,
}: DriveRange): { cylinder: number; head: number }[] {
  return Array.from({ length: Math.min(CYLINDERS, cylinders) }, (_, cylinder) =>
    Array.from({ length: heads }, (_each, head) => ({ cylinder, head })),
  ).flat();
}

interface PreviewInput {
  tracks: readonly TrackDecode[];
  layouts: readonly Layout[];
  form: FormFactor;
  drive: DriveRange;
}

/**
 * The layout that the first tracks show, with the drive's steps a cylinder; null where none fits.
 */
export function previewLayout({ tracks, layouts, form }: PreviewInput) {
  return bestMatch(matchLayouts(layouts, form, tracks.map(evidenceOf)));
}

/** Where no layout fits: everything, on the sides that hold something. */
function previewOfUnknown({ tracks, form, drive }: PreviewInput, recorded: number[]): Preview {
  const last = drive.cylinders - 1;
  const formats = eachOnce(tracks.flatMap(({ formats: found }) => found.map(describeFound)));
  const heads =
    recorded.length > 0 ? recorded : Array.from({ length: drive.heads }, (_, head) => head);
  const seen =
    formats.length > 0
      ? said('plan.noKnownLayoutFits', { formats: formats.slice(0, 2) })
      : said('plan.nothingWasMadeOut');
  return {
    sentence: said('plan.readAllCylinders', {
      form: formName(form),
      seen,
      cylinders: drive.cylinders,
    }),
    shows: seen,
    layout: null,
    range: { from: 0, to: last, heads, step: 1 },
    landmarks: [{ name: said('plan.everything'), to: last }],
  };
}

/** The layout as it is on this disk: its form, and the sides that are read. */
function describeAsMade(layout: Layout, form: FormFactor, heads: number): Said {
  if (layout.tracks.length > 2) return describeLayout(layout);
  return said('plan.cylindersTwoHeads', {
    form: formName(form),
    cylinders: layout.cylinders,
    heads,
    tracks: layout.tracks.map((rule) =>
      layout.tracks.length === 1
        ? describeFormat(rule)
        : said('plan.onCylinders', {
            format: describeFormat(rule),
            from: rule.cylinders[0],
            to: rule.cylinders[1],
          }),
    ),
  });
}

/**
 * `inUse` is the last cylinder of the layout that a volume uses, where one was found on the first
 * tracks.
 */
export function previewOf(input: PreviewInput, inUse: number | null): Preview {
  const { tracks, form, drive } = input;
  const match = previewLayout(input);
  const recorded = [0, 1].filter(
    (head) =>
      head < drive.heads &&
      tracks.some(
        (track) => track.head === head && track.sectors.some(({ grade }) => grade !== 'lost'),
      ),
  );
  const last = drive.cylinders - 1;
  if (!match) return previewOfUnknown(input, recorded);
  const { layout, stepping: step } = match;
  // A side that the layout does not have, but on which something is recorded, is read all the same.
  const heads = Array.from({ length: drive.heads }, (_, head) => head).filter(
    (head) => head < layout.heads || recorded.includes(head),
  );
  const position = (cylinder: number) => Math.min(last, cylinder * step);
  const end = position(layout.cylinders - 1);
  const landmarks: Landmark[] = [
    ...(inUse !== null && position(inUse) < end
      ? [{ name: said('plan.inUse'), to: position(inUse) }]
      : []),
    { name: said('plan.endOfTheLayout'), to: end },
    ...(end < last ? [{ name: said('plan.everything'), to: last }] : []),
  ];
  const shows = said('plan.shows', { describes: describeAsMade(layout, form, heads.length), step });
  return {
    sentence: said('plan.go', { shows }),
    shows,
    layout: layout.id,
    range: { from: 0, to: end, heads, step },
    landmarks,
  };
}
