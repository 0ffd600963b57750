/** Which layout does a capture follow? Evidence from sectors found, never from a name. */
import { said, type Said } from '@/core/said';
import type { FormFactor } from '../flux/container';
import {
  describeSectors,
  formatAt,
  hasFullIds,
  sectorKey,
  turnCells,
  type EncodingId,
  type Layout,
} from './layout';

/** What one track shows. */
export interface TrackEvidence {
  /** Head position in the drive's own steps. */
  cylinder: number;
  head: number;
  /** Null where nothing was found. */
  encoding: EncodingId | null;
  /** Code cells in one turn: what a rate comes to whatever the drive's speed. */
  turnCells: number;
  found: readonly { c: number; h: number | null; r: number; size: number }[];
}

export interface LayoutMatch {
  layout: Layout;
  stepping: 1 | 2;
  /** 0 … 1: shared sectors over all that were found or expected, on the tracks read. */
  confidence: number;
  /** One sentence saying what speaks for it. */
  evidence: Said;
}

/** Below this a layout does not fit. */
const ENOUGH = 0.3;
/** Cells a turn may differ by this share: two drives, each a few percent off. */
const RATE_TOLERANCE = 0.1;
/**
 * Weight of what the ID fields say of cylinder and head, beside what they say of number and size.
 */
const ID_WEIGHT = 0.15;

/**
 * Steps of the drive from one cylinder to the next. Two, where the recorded cylinders grow half
 * as fast as the
 * positions; tracks between are then ghosts of their neighbours.
 */
export function steppingOf(tracks: readonly TrackEvidence[]): 1 | 2 {
  let single = 0;
  let double = 0;
  for (const { cylinder, found } of tracks) {
    for (const { c } of found) {
      if (cylinder > 2 && (c === cylinder || c === cylinder + 1)) single++;
      if (cylinder > 2 && cylinder % 2 === 0 && (c === cylinder / 2 || c === cylinder / 2 + 1))
        double++;
    }
  }
  return double > single ? 2 : 1;
}

/** Sectors found on a track by number and size; a number that stands twice counts once. */
type Found = ReadonlyMap<number, TrackEvidence['found'][number]>;

const foundOf = ({ found }: TrackEvidence): Found =>
  new Map(found.map((sector) => [sectorKey(sector.r, sector.size), sector]));

function matchOne(
  layout: Layout,
  form: FormFactor | null,
  tracks: readonly TrackEvidence[],
  foundOn: readonly Found[],
  stepping: 1 | 2,
): LayoutMatch {
  const keys = new Map(
    layout.tracks.map((rule) => [
      rule,
      new Set(rule.sectors.map(({ r, bytes }) => sectorKey(r, bytes))),
    ]),
  );
  const met = new Map(layout.tracks.map((rule) => [rule, new Set<number>()]));
  let shared = 0;
  let all = 0;
  let onRate = 0;
  let rated = 0;
  let ids = 0;
  for (const [i, track] of tracks.entries()) {
    // An empty track says nothing: it may lie beyond a format that never reached it.
    if (track.found.length === 0 || track.cylinder % stepping !== 0) continue;
    const cylinder = track.cylinder / stepping;
    const format = formatAt(layout, cylinder, track.head);
    const sameCode = format !== null && track.encoding === format.encoding;
    const expected = format && keys.get(format)!;
    const found = foundOn[i]!;
    let common = 0;
    if (sameCode) {
      const wantedHead = hasFullIds(format.encoding)
        ? (layout.recordedHeads[track.head] ?? track.head)
        : null;
      for (const [key, { c, h }] of found) {
        if (!expected!.has(key)) continue;
        common++;
        met.get(format)!.add(key);
        if (c === cylinder + layout.firstCylinder && h === wantedHead) ids++;
      }
    }
    shared += common;
    all += found.size + Math.max(0, (expected?.size ?? 0) - common);
    if (track.turnCells > 0) {
      rated++;
      if (
        sameCode &&
        Math.abs(track.turnCells / turnCells(format, layout.rpm) - 1) < RATE_TOLERANCE
      )
        onRate++;
    }
  }
  let confidence = all > 0 ? shared / all : 0;
  if (rated > 0) confidence *= onRate / rated;
  // Numbers that no track at all shows are not worn away; they were never there.
  const touched = [...met].filter(([, seen]) => seen.size > 0);
  for (const [rule, seen] of touched)
    confidence *= Math.min(1, seen.size / keys.get(rule)!.size) ** (2 / touched.length);
  if (shared > 0) confidence *= 1 - ID_WEIGHT + (ID_WEIGHT * ids) / shared;
  if (form && !layout.forms.includes(form)) confidence = 0;
  const { sectors } = layout.tracks[layout.tracks.length - 1]!;
  const evidence = said('layout.evidence', {
    shared,
    all,
    sectors: describeSectors(sectors),
    onRate,
    rated,
    ids,
  });
  return { layout, stepping, confidence, evidence };
}

/** Layouts ranked by confidence, best first; `form` excludes those of another size of disk. */
export function matchLayouts(
  layouts: readonly Layout[],
  form: FormFactor | null,
  tracks: readonly TrackEvidence[],
): LayoutMatch[] {
  const stepping = steppingOf(tracks);
  const foundOn = tracks.map(foundOf);
  return layouts
    .map((layout) =>
      matchOne(layout, form, tracks, foundOn, layout.stepping === 'double' ? 2 : stepping),
    )
    .sort((a, b) => b.confidence - a.confidence);
}

/** The best match, or null where none fits. */
export function bestMatch(matches: readonly LayoutMatch[]): LayoutMatch | null {
  return matches[0] && matches[0].confidence >= ENOUGH ? matches[0] : null;
}

/**
 * Whether a track follows the layout's format there, in code and in most of its sectors; true where
 * it shows nothing.
 */
export function follows(track: TrackEvidence, layout: Layout, stepping: 1 | 2): boolean {
  if (track.found.length === 0) return true;
  const format =
    track.cylinder % stepping === 0
      ? formatAt(layout, track.cylinder / stepping, track.head)
      : null;
  if (!format || track.encoding !== format.encoding) return false;
  const keys = new Set(format.sectors.map(({ r, bytes }) => sectorKey(r, bytes)));
  const shared = track.found.filter(({ r, size }) => keys.has(sectorKey(r, size))).length;
  const sameHeads =
    !hasFullIds(format.encoding) ||
    track.found.some(({ h }) => h === (layout.recordedHeads[track.head] ?? track.head));
  return sameHeads && shared * 2 > track.found.length && track.found.length <= keys.size + 1;
}
