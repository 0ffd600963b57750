/**
 * Settles the sectors of one track from every sighting of them: all turns of all readings of all passes.
 * Grades follow `grades.ts`. Nothing is called sound without a check that passed.
 */
import { crc16 } from '../bits/crc16';
import { isDeletedMark, type Recovery, type SectorSighting } from '../encoding';
import { CRC_AFTER_SYNC } from '../encoding/mfm/marks';
import { angleBetween } from './turn';
import type { Grade } from './grades';

/** How a mended sector was mended. */
export const MENDINGS = Object.freeze(['another-pass', 'another-recovery', 'voting'] as const);
export type Mending = (typeof MENDINGS)[number];

/** A sighting with where it was taken. */
export interface PlacedSighting {
  sighting: SectorSighting;
  /** Which of the track's readings, from 0, in the order read. */
  reading: number;
  pass: number;
  turn: number;
  /** Start of the ID field's sync, as a share of the turn. */
  angle: number;
  /** Length up to the end of the data field, as a share of the turn. */
  span: number;
}

/** A sector of a track as settled. */
export interface TrackSector {
  cylinder: number;
  head: number;
  /** As recorded; for a lost sector as the layout expects. */
  c: number;
  h: number;
  r: number;
  n: number;
  size: number;
  deleted: boolean;
  mark: number | null;
  grade: Grade;
  mending: Mending | null;
  /** Sound bytes, or of a doubtful sector what one reading had. */
  data: Uint8Array | null;
  angle: number | null;
  span: number | null;
  /** How often its ID, and its data with a right check, were seen. */
  seen: number;
  seenSound: number;
  source: { reading: number; pass: number; turn: number; recovery: Recovery } | null;
}

/** Two sightings of one ID this close in angle are one sector. */
const SAME_PLACE = 0.02;
/** Recoveries that count as plain reading; what only another one reads is mended. */
const PLAIN: ReadonlySet<Recovery> = new Set<Recovery>(['stepped', 'loop']);
const VOTES_NEEDED = 3;

function sameBytes(a: Uint8Array, b: Uint8Array): boolean {
  if (a === b) return true;
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
}

/** Groups sightings of the same ID at the same place, in order of angle. */
export function groupSightings(sightings: readonly PlacedSighting[]): PlacedSighting[][] {
  const groups: PlacedSighting[][] = [];
  const byId = new Map<number, PlacedSighting[][]>();
  for (const placed of sightings) {
    const { c, h, r, n } = placed.sighting;
    const id = ((c * 256 + h) * 256 + r) * 256 + n;
    let candidates = byId.get(id);
    if (!candidates) byId.set(id, candidates = []);
    const group = candidates.find(([first]) => angleBetween(first!.angle, placed.angle) < SAME_PLACE);
    if (group) group.push(placed);
    else {
      const opened = [placed];
      candidates.push(opened);
      groups.push(opened);
    }
  }
  return groups.sort((a, b) => a[0]!.angle - b[0]!.angle);
}

/** Versions of a sector's data whose check passed, with who supports each, best supported first. */
function soundVersions(group: readonly PlacedSighting[]): PlacedSighting[][] {
  const versions: PlacedSighting[][] = [];
  for (const placed of group) {
    if (!placed.sighting.dataOk) continue;
    const same = versions.find(([first]) => sameBytes(first!.sighting.data!, placed.sighting.data!));
    if (same) same.push(placed);
    else versions.push([placed]);
  }
  return versions.sort((a, b) => support(b) - support(a));
}

/** Turns that read this version; the same turn under two recoveries counts once. */
function support(version: readonly PlacedSighting[]): number {
  return new Set(version.map(({ reading, turn }) => reading * 65536 + turn)).size;
}

/**
 * A check of 16 bits passes by chance once in 65,536 tries. A version that breaks the code's own rule needs a second
 * turn to agree; of two versions the better supported one counts, and of two equal ones neither.
 */
function trusted(versions: readonly PlacedSighting[][]): PlacedSighting[] | null {
  const [best, second] = versions;
  if (!best) return null;
  if (second && support(second) === support(best)) return null;
  return best.some(({ sighting }) => sighting.violations === 0) || support(best) > 1 ? best : null;
}

/** Majority of each bit over all readings that are whole; null unless the check passes on the outcome. */
function vote(group: readonly PlacedSighting[]): Uint8Array | null {
  const whole = group.filter(({ sighting }) => sighting.data?.length === sighting.size && sighting.check >= 0);
  if (whole.length < VOTES_NEEDED) return null;
  const size = whole[0]!.sighting.size;
  const field = new Uint8Array(size + 3);
  const byteOf = ({ sighting }: PlacedSighting, i: number) =>
    i === 0 ? sighting.mark! : i <= size ? sighting.data![i - 1]! : (sighting.check >>> (i === size + 1 ? 8 : 0)) & 0xff;
  for (let i = 0; i < field.length; i++) {
    for (let bit = 0; bit < 8; bit++) {
      let ones = 0;
      for (const placed of whole) ones += (byteOf(placed, i) >>> bit) & 1;
      if (2 * ones > whole.length) field[i]! |= 1 << bit;
    }
  }
  return crc16(field, 0, field.length, CRC_AFTER_SYNC) === 0 ? field.subarray(1, size + 1) : null;
}

function settleGroup(cylinder: number, head: number, group: readonly PlacedSighting[], firstPass: number): TrackSector {
  const first = group[0]!;
  const { c, h, r, n, size } = first.sighting;
  const base = {
    cylinder, head, c, h, r, n, size, angle: first.angle, seen: group.length,
    seenSound: group.filter(({ sighting }) => sighting.dataOk).length,
  };
  const from = (placed: PlacedSighting) => ({
    mark: placed.sighting.mark, deleted: isDeletedMark(placed.sighting.mark), span: placed.span,
    source: { reading: placed.reading, pass: placed.pass, turn: placed.turn, recovery: placed.sighting.recovery },
  });
  const version = trusted(soundVersions(group));
  if (version) {
    const plain = version.find(({ pass, sighting }) => pass === firstPass && PLAIN.has(sighting.recovery));
    const best = plain ?? version[0]!;
    const mending = plain ? null : version.some(({ pass }) => pass === firstPass) ? 'another-recovery' : 'another-pass';
    return { ...base, ...from(best), grade: plain ? 'firm' : 'mended', mending, data: best.sighting.data };
  }
  const fullest = group.reduce((a, b) => ((b.sighting.data?.length ?? -1) > (a.sighting.data?.length ?? -1) ? b : a));
  // Sound versions that contradict each other are no case for a vote.
  const voted = base.seenSound === 0 ? vote(group) : null;
  if (voted) return { ...base, ...from(fullest), grade: 'mended', mending: 'voting', data: voted };
  return { ...base, ...from(fullest), grade: 'doubtful', mending: null, data: fullest.sighting.data };
}

/** The sectors of one track in order of angle; sectors that a layout expects and nobody saw are not among them. */
export function settleTrack(cylinder: number, head: number, sightings: readonly PlacedSighting[], firstPass: number): TrackSector[] {
  return groupSightings(sightings).map((group) => settleGroup(cylinder, head, group, firstPass));
}

/** A sector that the layout expects here and no reading shows. */
export function missingSector(cylinder: number, head: number, r: number, n: number, size: number, grade: 'lost' | 'unread'): TrackSector {
  return {
    cylinder, head, c: cylinder, h: head, r, n, size, deleted: false, mark: null, grade, mending: null, data: null,
    angle: null, span: null, seen: 0, seenSound: 0, source: null,
  };
}
