/**
 * The plan of a sitting: which track to read next, how, and why; and when to stop. Pure: it sees only what has been
 * committed, so that a sitting goes on after any interruption.
 */

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
}

/** How much of a medium a sitting takes, in the drive's own steps. */
export interface Reach {
  from: number;
  /** Taken in. */
  to: number;
  heads: readonly number[];
  /** Steps from one cylinder of the medium to the next. */
  step: 1 | 2;
}

/** The tracks of a reach, outermost to innermost. */
export function tracksOfReach({ from, to, heads, step }: Reach): { cylinder: number; head: number }[] {
  const tracks: { cylinder: number; head: number }[] = [];
  for (let cylinder = from; cylinder <= to; cylinder += step) for (const head of heads) tracks.push({ cylinder, head });
  return tracks;
}

export interface ReadingPolicy {
  /** Null until the first tracks were looked at. */
  reach: Reach | null;
  /** Turns of the first reading, and of later ones. */
  revolutions: number;
  laterRevolutions: number;
  /** Most readings of one track. */
  tries: number;
  /** Readings without any gain after which a track is left as it is. */
  patience: number;
}

export const DEFAULT_POLICY: Omit<ReadingPolicy, 'reach'> = Object.freeze({ revolutions: 2, laterRevolutions: 5, tries: 6, patience: 3 });

/** How the head comes to the track. */
export const APPROACHES = Object.freeze(['plain', 'from-outside', 'from-inside'] as const);
export type Approach = (typeof APPROACHES)[number];

export type Step =
  | { kind: 'read'; cylinder: number; head: number; pass: number; revolutions: number; approach: Approach; why: string }
  | { kind: 'done'; why: string };

/** `third`; beyond the ninth, `10th`. */
export const ordinal = (n: number) => ['', 'first', 'second', 'third', 'fourth', 'fifth', 'sixth', 'seventh', 'eighth', 'ninth'][n] ?? `${n}th`;

/** A policy whose reach is settled. */
export type PlannedReading = ReadingPolicy & { reach: Reach };

/** The first reading of a track. */
export function firstReading({ cylinder, head }: { cylinder: number; head: number }, { revolutions }: Pick<ReadingPolicy, 'revolutions'>): Extract<Step, { kind: 'read' }> {
  return { kind: 'read', cylinder, head, pass: 1, revolutions, approach: 'plain', why: `Reading cylinder ${cylinder}, head ${head}` };
}

/** All tracks once, outermost to innermost; then those that failed, pass by pass, each time a little differently. */
export function nextStep(progress: readonly TrackProgress[], policy: PlannedReading): Step {
  const known = new Set(progress.map((track) => track.cylinder * 2 + track.head));
  const wanted = tracksOfReach(policy.reach);
  const next = wanted.find(({ cylinder, head }) => !known.has(cylinder * 2 + head));
  if (next) return firstReading(next, policy);
  const keys = new Set(wanted.map(({ cylinder, head }) => cylinder * 2 + head));
  const inReach = progress.filter(({ cylinder, head }) => keys.has(cylinder * 2 + head));
  const open = inReach.filter(({ unsound, tries, sinceBetter }) => unsound > 0 && tries < policy.tries && sinceBetter < policy.patience);
  if (open.length === 0) {
    const left = inReach.filter(({ unsound }) => unsound > 0).length;
    return { kind: 'done', why: left === 0 ? 'Every sector is sound.' : `${left} ${left === 1 ? 'track is' : 'tracks are'} left with sectors in doubt; reading them again brought nothing more.` };
  }
  // The pass that the fewest readings have seen goes first, in order of the disk.
  const tries = Math.min(...open.map((track) => track.tries));
  const track = open.filter((each) => each.tries === tries).sort((a, b) => a.cylinder - b.cylinder || a.head - b.head)[0]!;
  const { cylinder, head } = track;
  return {
    kind: 'read', cylinder, head, pass: tries + 1, revolutions: policy.laterRevolutions,
    approach: tries % 2 === 1 ? 'from-inside' : 'from-outside',
    why: `Reading cylinder ${cylinder}, head ${head}, for the ${ordinal(tries + 1)} time`,
  };
}

/** Progress of a track after one more reading left `unsound` sectors. */
export function afterReading(before: TrackProgress | null, cylinder: number, head: number, unsound: number): TrackProgress {
  const better = before === null || unsound < before.unsound;
  return { cylinder, head, tries: (before?.tries ?? 0) + 1, unsound, sinceBetter: better ? 0 : before.sinceBetter + 1 };
}

/** Readings still to come if nothing more fails: what a time left is worked out from. */
export function readingsLeft(progress: readonly TrackProgress[], policy: ReadingPolicy): number {
  if (!policy.reach) return 0;
  const known = new Set(progress.map(({ cylinder, head }) => cylinder * 2 + head));
  const unread = tracksOfReach(policy.reach).filter(({ cylinder, head }) => !known.has(cylinder * 2 + head)).length;
  const again = progress.filter(({ unsound, tries, sinceBetter }) => unsound > 0 && tries < policy.tries && sinceBetter < policy.patience);
  return unread + again.length;
}
