/**
 * The plan of a sitting: which track to read next, how, and why; and when to stop. Pure: it sees
 * only what has been
 * committed, so that a sitting goes on after any interruption.
 */

import { said, type Said } from '@/core/said';
import type { Approach } from './approach';
import { bestWay, type Attempt, type Expected, type Way } from './gain';

/** What is known of one track so far. */
export interface TrackProgress {
  cylinder: number;
  head: number;
  /** Readings taken. */
  tries: number;
  /** Sectors that are not sound yet: doubtful or lost. */
  unsound: number;
  /** Readings in a row that made nothing better. */
  sinceBetter: number;
  /** Readings taken when the head was last cleaned: a clean head gets all its tries anew. */
  triesBefore?: number;
  /** What reading it again brought, in order; of tracks of earlier versions it is not known. */
  attempts?: readonly Attempt[];
}

/** How much of a medium a sitting takes, in the drive's own steps. */
export interface Range {
  from: number;
  /** Taken in. */
  to: number;
  heads: readonly number[];
  /** Steps from one cylinder of the medium to the next. */
  step: 1 | 2;
}

/**
 * Which way a sweep goes. Inner tracks are the hard ones: where a medium may give one read only,
 * they may come first.
 */
export const SWEEPS = Object.freeze(['inward', 'outward'] as const);
export type Sweep = (typeof SWEEPS)[number];

/** The tracks of a range, in the order of the sweep. */
export function tracksOfRange(
  { from, to, heads, step }: Range,
  sweep: Sweep = 'inward',
): { cylinder: number; head: number }[] {
  const tracks: { cylinder: number; head: number }[] = [];
  for (let cylinder = from; cylinder <= to; cylinder += step)
    for (const head of heads) tracks.push({ cylinder, head });
  return sweep === 'inward' ? tracks : tracks.reverse();
}

export interface ReadingPolicy {
  /** Null until the first tracks were looked at. */
  range: Range | null;
  /** Turns of the first reading, and of later ones. */
  revolutions: number;
  laterRevolutions: number;
  /** Most readings of one track. */
  tries: number;
  /** Readings without any gain after which a track is left as it is. */
  patience: number;
  sweep: Sweep;
  /**
   * For fragile media: one sweep over everything, and the head never seeks away and back or stands
   * beside its track.
   */
  gentle: boolean;
}

export const DEFAULT_POLICY: Omit<ReadingPolicy, 'range'> = Object.freeze({
  revolutions: 2,
  laterRevolutions: 5,
  tries: 6,
  patience: 3,
  sweep: 'inward',
  gentle: false,
});

/**
 * How a reading after the first may differ from the one before, and what it usually gives: in the
 * order in which they are worth their time as long as nothing is known of a disk.
 */
const VARIATIONS: readonly { approach: Approach; how: Said; moreTurns: number; usually: number }[] =
  [
    {
      approach: 'from-inside',
      how: said('plan.comingFromTheInside'),
      moreTurns: 0,
      usually: 0.34,
    },
    {
      approach: 'beside-outward',
      how: said('plan.aLittleOutwardOf'),
      moreTurns: 0,
      usually: 0.3,
    },
    { approach: 'beside-inward', how: said('plan.aLittleInwardOf'), moreTurns: 0, usually: 0.28 },
    {
      approach: 'from-outside',
      how: said('plan.comingFromTheOutside'),
      moreTurns: 0,
      usually: 0.29,
    },
    { approach: 'plain', how: said('plan.overMoreTurns'), moreTurns: 5, usually: 0.45 },
  ];
/** Sectors of neighbours that a way gave, from which it is said. */
const TELLING = 3;
/** Most turns that a drive is asked for at once. */
const MAX_TURNS = 20;

export type Step =
  | {
      kind: 'read';
      cylinder: number;
      head: number;
      pass: number;
      revolutions: number;
      approach: Approach;
      why: Said;
    }
  | { kind: 'done'; why: Said };

/** A policy whose range is settled. */
export type PlannedReading = ReadingPolicy & { range: Range };

/** The first reading of a track. */
export function firstReading(
  { cylinder, head }: { cylinder: number; head: number },
  { revolutions }: Pick<ReadingPolicy, 'revolutions'>,
): Extract<Step, { kind: 'read' }> {
  return {
    kind: 'read',
    cylinder,
    head,
    pass: 1,
    revolutions,
    approach: 'plain',
    why: said('plan.readingCylinderHead', { cylinder, head }),
  };
}

/**
 * All tracks once, outermost to innermost; then those that failed, pass by pass, each time a little
 * differently.
 */
export function nextStep(progress: readonly TrackProgress[], policy: PlannedReading): Step {
  const known = new Set(progress.map((track) => track.cylinder * 2 + track.head));
  const wanted = tracksOfRange(policy.range, policy.sweep);
  const next = wanted.find(({ cylinder, head }) => !known.has(cylinder * 2 + head));
  if (next) return firstReading(next, policy);
  const keys = new Set(wanted.map(({ cylinder, head }) => cylinder * 2 + head));
  const inRange = progress.filter(({ cylinder, head }) => keys.has(cylinder * 2 + head));
  const open = inRange.filter((track) => isOpen(track, policy));
  if (open.length === 0) {
    const left = inRange.filter(({ unsound }) => unsound > 0).length;
    return {
      kind: 'done',
      why: said('plan.nothingMoreToRead', { left }),
    };
  }
  // The pass that the fewest readings have seen goes first, in order of the disk.
  const tries = Math.min(...open.map((track) => track.tries));
  const inOrder = open
    .filter((each) => each.tries === tries)
    .sort((a, b) => a.cylinder - b.cylinder || a.head - b.head);
  const track = policy.sweep === 'outward' ? inOrder[inOrder.length - 1]! : inOrder[0]!;
  return readingAgain(track, inRange, policy);
}

/** The ways that there are to read a track again. */
const waysOf = ({ laterRevolutions }: ReadingPolicy): Way[] =>
  VARIATIONS.map(({ approach, moreTurns, usually }) => ({
    approach,
    turns: Math.min(MAX_TURNS, laterRevolutions + moreTurns),
    usually,
  }));

/** What it is, and that it gave sectors of tracks near this one. */
function howOf({ way, nearGained, nearOf }: Expected): Said {
  const how = VARIATIONS.find(({ approach }) => approach === way.approach)!.how;
  return nearGained < TELLING
    ? how
    : said('plan.gaveNear', { how, gained: nearGained, of: nearOf });
}

function howAgain(
  track: TrackProgress,
  all: readonly TrackProgress[],
  policy: PlannedReading,
): { approach: Approach; revolutions: number; how: Said | null } {
  const plainly = {
    approach: 'plain' as const,
    revolutions: Math.min(MAX_TURNS, policy.laterRevolutions),
  };
  if (track.triesBefore === track.tries) return { ...plainly, how: said('plan.withACleanHead') };
  if (policy.gentle) return { ...plainly, how: null };
  const best = bestWay(track, all, waysOf(policy));
  return { approach: best.way.approach, revolutions: best.way.turns, how: howOf(best) };
}

function readingAgain(
  track: TrackProgress,
  all: readonly TrackProgress[],
  policy: PlannedReading,
): Extract<Step, { kind: 'read' }> {
  const { cylinder, head } = track;
  const tries = track.tries + 1;
  const { approach, revolutions, how } = howAgain(track, all, policy);
  return {
    kind: 'read',
    cylinder,
    head,
    pass: tries,
    revolutions,
    approach,
    why: said('plan.readingCylinderHeadFor', { cylinder, head, tries, how }),
  };
}

/** Whether a track is to be read again. */
function isOpen(
  { unsound, tries, sinceBetter, triesBefore = 0 }: TrackProgress,
  policy: ReadingPolicy,
): boolean {
  return unsound > 0 && tries - triesBefore < policy.tries && sinceBetter < policy.patience;
}

/** Progress once the head was cleaned: what is not sound gets its tries anew. */
export function afterCleaning(track: TrackProgress): TrackProgress {
  if (track.unsound === 0) return track;
  return { ...track, sinceBetter: 0, triesBefore: track.tries, attempts: [] };
}

/** Progress of a track after one more reading left `unsound` sectors. */
export function afterReading(
  before: TrackProgress | null,
  { cylinder, head }: { cylinder: number; head: number },
  unsound: number,
  { approach, revolutions }: Pick<Extract<Step, { kind: 'read' }>, 'approach' | 'revolutions'>,
): TrackProgress {
  if (!before) return { cylinder, head, tries: 1, unsound, sinceBetter: 0 };
  const gained = Math.max(0, before.unsound - unsound);
  const attempt: Attempt = { approach, turns: revolutions, of: before.unsound, gained };
  return {
    ...before,
    tries: before.tries + 1,
    unsound,
    sinceBetter: gained > 0 ? 0 : before.sinceBetter + 1,
    attempts: [...(before.attempts ?? []), attempt],
  };
}

/** Readings still to come if nothing more fails: what a time left is worked out from. */
export function readingsLeft(progress: readonly TrackProgress[], policy: ReadingPolicy): number {
  if (!policy.range) return 0;
  const known = new Set(progress.map(({ cylinder, head }) => cylinder * 2 + head));
  const unread = tracksOfRange(policy.range).filter(
    ({ cylinder, head }) => !known.has(cylinder * 2 + head),
  ).length;
  const again = progress.filter((track) => isOpen(track, policy));
  return unread + again.length;
}
