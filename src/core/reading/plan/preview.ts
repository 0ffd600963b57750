/**
 * What the first tracks of a medium show, before the whole of it is read: the layout, how the
 * drive must step, which
 * heads, and how far there is anything to reach for.
 */
import type { FormFactor } from '@/core/flux/container';
import { describeFormat, describeLayout, type Layout } from '@/core/layout/layout';
import { FORM_NAMES } from '@/core/medium-form';
import { bestMatch, matchLayouts } from '@/core/layout/match';
import { evidenceOf } from '../decode/decode-capture';
import type { Range } from './plan';
import type { TrackDecode } from '../decode/track-decoder';
import { describeFound } from '../decode/track-formats';

/** Cylinders looked at first: a drive that must step twice shows it on the third. */
const CYLINDERS = 5;

interface DriveRange {
  cylinders: number;
  heads: number;
}

/** A place on the ruler: how far to read, and what lies there. */
export interface Landmark {
  name: 'in use' | 'end of the layout' | 'everything';
  /** Last head position, in the drive's own steps. */
  to: number;
}

export interface Preview {
  /** One sentence that asks: go? */
  sentence: string;
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
  if (!match) {
    const formats = [...new Set(tracks.flatMap(({ formats: found }) => found.map(describeFound)))];
    const heads =
      recorded.length > 0 ? recorded : Array.from({ length: drive.heads }, (_, head) => head);
    const seen =
      formats.length > 0
        ? `No known layout fits; the first tracks show ${formats.slice(0, 2).join(' and ')}`
        : 'Nothing was made out on the first tracks';
    return {
      sentence: `${FORM_NAMES[form]}: ${seen}. Read all ${drive.cylinders} cylinders?`,
      layout: null,
      range: { from: 0, to: last, heads, step: 1 },
      landmarks: [{ name: 'everything', to: last }],
    };
  }
  const { layout, stepping: step } = match;
  // A side that the layout does not have, but on which something is recorded, is read all the same.
  const heads = Array.from({ length: drive.heads }, (_, head) => head).filter(
    (head) => head < layout.heads || recorded.includes(head),
  );
  const position = (cylinder: number) => Math.min(last, cylinder * step);
  const end = position(layout.cylinders - 1);
  const landmarks: Landmark[] = [
    ...(inUse !== null && position(inUse) < end
      ? [{ name: 'in use' as const, to: position(inUse) }]
      : []),
    { name: 'end of the layout', to: end },
    ...(end < last ? [{ name: 'everything' as const, to: last }] : []),
  ];
  const describes =
    layout.tracks.length > 2
      ? describeLayout(layout)
      : `${FORM_NAMES[form]}, ${layout.cylinders} cylinders, ` +
        `${heads.length === 1 ? 'one head' : 'two heads'}, ` +
        `${layout.tracks
          .map(
            (rule) =>
              `${describeFormat(rule)}` +
              `${layout.tracks.length > 1 ? ` on cylinders ${rule.cylinders[0]} to ${rule.cylinders[1]}` : ''}`,
          )
          .join(', then ')}`;
  return {
    sentence: `${describes}${step === 2 ? ', two steps a cylinder' : ''}: go?`,
    layout: layout.id,
    range: { from: 0, to: end, heads, step },
    landmarks,
  };
}
