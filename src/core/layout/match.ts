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

type Rule = Layout['tracks'][number];

/** What the tracks of a capture have in common with a layout. */
class Comparison {
  shared = 0;
  all = 0;
  ids = 0;
  onRate = 0;
  rated = 0;
  private readonly keys: Map<Rule, Set<number>>;
  private readonly met: Map<Rule, Set<number>>;

  constructor(private readonly layout: Layout) {
    this.keys = new Map(
      layout.tracks.map((rule) => [
        rule,
        new Set(rule.sectors.map(({ r, bytes }) => sectorKey(r, bytes))),
      ]),
    );
    this.met = new Map(layout.tracks.map((rule) => [rule, new Set<number>()]));
  }

  add(track: TrackEvidence, found: Found, cylinder: number): void {
    const format = formatAt(this.layout, cylinder, track.head);
    const same = format !== null && track.encoding === format.encoding ? format : null;
    const common = same ? this.common(same, track.head, found, cylinder) : 0;
    const expected = format ? this.keys.get(format)!.size : 0;
    this.shared += common;
    this.all += found.size + Math.max(0, expected - common);
    if (track.turnCells <= 0) return;
    this.rated++;
    const off = same ? track.turnCells / turnCells(same, this.layout.rpm) - 1 : Infinity;
    if (Math.abs(off) < RATE_TOLERANCE) this.onRate++;
  }

  private common(format: Rule, head: number, found: Found, cylinder: number): number {
    const { recordedHeads, firstCylinder } = this.layout;
    const wantedHead = hasFullIds(format.encoding) ? (recordedHeads[head] ?? head) : null;
    const expected = this.keys.get(format)!;
    let common = 0;
    for (const [key, { c, h }] of found) {
      if (!expected.has(key)) continue;
      common++;
      this.met.get(format)!.add(key);
      if (c === cylinder + firstCylinder && h === wantedHead) this.ids++;
    }
    return common;
  }

  confidence(): number {
    let confidence = this.all > 0 ? this.shared / this.all : 0;
    if (this.rated > 0) confidence *= this.onRate / this.rated;
    // Numbers that no track at all shows are not worn away; they were never there.
    const touched = [...this.met].filter(([, seen]) => seen.size > 0);
    for (const [rule, seen] of touched)
      confidence *= Math.min(1, seen.size / this.keys.get(rule)!.size) ** (2 / touched.length);
    if (this.shared > 0) confidence *= 1 - ID_WEIGHT + (ID_WEIGHT * this.ids) / this.shared;
    return confidence;
  }
}

function matchOne(
  layout: Layout,
  form: FormFactor | null,
  tracks: readonly TrackEvidence[],
  foundOn: readonly Found[],
  stepping: 1 | 2,
): LayoutMatch {
  const compared = new Comparison(layout);
  for (const [i, track] of tracks.entries()) {
    // An empty track says nothing: it may lie beyond a format that never reached it.
    if (track.found.length === 0 || track.cylinder % stepping !== 0) continue;
    compared.add(track, foundOn[i]!, track.cylinder / stepping);
  }
  const { shared, all, onRate, rated, ids } = compared;
  const isOtherForm = form !== null && !layout.forms.includes(form);
  const confidence = isOtherForm ? 0 : compared.confidence();
  const sectors = describeSectors(layout.tracks[layout.tracks.length - 1]!.sectors);
  const evidence = said('layout.evidence', { shared, all, sectors, onRate, rated, ids });
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
