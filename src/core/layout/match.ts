/** Which layout does a capture follow? Evidence from sectors found, never from a name. */
import type { FormFactor } from '../flux/container';
import { bytesOfSizeCode, type Layout } from './layout';

/** What one track shows: the sectors found, and the fitted data rate in kbit/s (0 where none). */
export interface TrackEvidence {
  cylinder: number;
  head: number;
  found: readonly { r: number; n: number }[];
  rateKbps: number;
}

export interface LayoutMatch {
  layout: Layout;
  /** 0 … 1: shared sectors over all that were found or expected, on the tracks read. */
  confidence: number;
  /** One sentence saying what speaks for it. */
  evidence: string;
}

/** Below this a layout does not fit. */
const ENOUGH = 0.3;
const RATE_TOLERANCE = 0.12;

function matchOne(layout: Layout, form: FormFactor | null, tracks: readonly TrackEvidence[]): LayoutMatch {
  const expected = new Set(layout.track.sectors.map(({ r, n }) => r * 256 + n));
  let shared = 0;
  let all = 0;
  let onRate = 0;
  let rated = 0;
  for (const track of tracks) {
    const inside = track.cylinder < layout.cylinders && track.head < layout.heads;
    const found = new Set(track.found.map(({ r, n }) => r * 256 + n));
    // An empty track says nothing: it may lie beyond a format that never reached it.
    if (found.size === 0) continue;
    let common = 0;
    if (inside) for (const id of found) if (expected.has(id)) common++;
    shared += common;
    all += found.size + (inside ? expected.size - common : 0);
    if (track.rateKbps > 0) {
      rated++;
      if (Math.abs(track.rateKbps / layout.track.rateKbps - 1) < RATE_TOLERANCE) onRate++;
    }
  }
  let confidence = all > 0 ? shared / all : 0;
  if (rated > 0) confidence *= onRate / rated;
  if (form && form !== layout.form) confidence = 0;
  const { sectors, rateKbps } = layout.track;
  const evidence = `${shared} of ${all} sectors are ${bytesOfSizeCode(sectors[0]!.n)} bytes numbered ${sectors[0]!.r} to ${sectors.length}; ${onRate} of ${rated} tracks run at ${rateKbps} kbit/s`;
  return { layout, confidence, evidence };
}

/** Layouts ranked by confidence, best first; `form` excludes those of another size of disk. */
export function matchLayouts(layouts: readonly Layout[], form: FormFactor | null, tracks: readonly TrackEvidence[]): LayoutMatch[] {
  return layouts.map((layout) => matchOne(layout, form, tracks)).sort((a, b) => b.confidence - a.confidence);
}

/** The best match, or null where none fits. */
export function bestLayout(matches: readonly LayoutMatch[]): Layout | null {
  return matches[0] && matches[0].confidence >= ENOUGH ? matches[0].layout : null;
}
