/**
 * A whole capture, from readings to graded sectors: all tracks plainly, then matched with a
 * layout, then those looked at
 * again on which something fails. The tracks may be shared out among threads (`TrackWorkers`).
 */
import type { RecoverySetting } from '@/core/encoding';
import type { ContainerHeader } from '@/core/flux/container';
import type { TrackReading } from '@/core/flux/reading';
import { sectorKey, tracksOfImage, type Layout } from '@/core/layout/layout';
import {
  bestMatch,
  follows,
  matchLayouts,
  type LayoutMatch,
  type TrackEvidence,
} from '@/core/layout/match';
import { proposeLayout } from '@/core/layout/propose';
import { expectationAt, isWhole, missingOf, type Stepping } from './expectation';
import { isSound } from '../grades';
import type { TrackSector } from '../track-sector';
import { TrackDecoder, type Effort, type TrackDecode, type Turns } from './track-decoder';
import type { DriveFacts } from './track-work';
import { describeFound } from './track-formats';
import { said, type Said } from '@/core/said';

/** A stretch of a capture for one thread: readings by track. */
export interface DecodeJob {
  groups: readonly (readonly TrackReading[])[];
  drive: DriveFacts;
  turns: Turns;
  layout: Layout | null;
  stepping: Stepping;
  effort: Effort;
  /** Sectors that a person holds to be as made (`sectorName`): they are never mended. */
  asMade?: ReadonlySet<string>;
  /** Settings that a person keeps for single tracks (`trackName`). */
  settings?: ReadonlyMap<string, RecoverySetting>;
}

/** A track by the drive's position. */
export const trackName = ({ cylinder, head }: { cylinder: number; head: number }) =>
  `${cylinder}/${head}`;

/** Does the jobs of a capture, on as many threads as it has. */
export interface TrackWorkers {
  readonly threads: number;
  /** A job that is not done when the signal comes is dropped, with the signal's reason. */
  decode(job: DecodeJob, signal?: AbortSignal): Promise<TrackDecode[]>;
}

/** Follows a decode that may take minutes. */
interface DecodeWatch {
  /** Breaks it off, with its reason. */
  signal: AbortSignal;
  /** What hurts and is not done by then is read by single turns. */
  hurry?: AbortSignal;
  /** Told of tracks that were read so. */
  leftOut?: (tracks: readonly TrackDecode[]) => void;
  /** Told as tracks on which something fails are done. */
  told: (done: number, of: number) => void;
}

/** A job on the thread that calls it. */
export function decodeJob({
  groups,
  drive,
  turns,
  layout,
  stepping,
  effort,
  asMade,
  settings,
}: DecodeJob): TrackDecode[] {
  const decoder = new TrackDecoder(drive, turns);
  return groups.map((group) =>
    decoder.decode(group, layout, {
      stepping,
      effort,
      asMade,
      setting: settings?.get(trackName(group[0]!)),
    }),
  );
}

/** No threads: everything on the one that calls. */
export const INLINE: TrackWorkers = Object.freeze({
  threads: 1,
  decode: async (job: DecodeJob, signal?: AbortSignal) => {
    signal?.throwIfAborted();
    return decodeJob(job);
  },
});

export interface CaptureDecode {
  layout: Layout | null;
  /** Steps of the drive from one cylinder of the layout to the next. */
  stepping: Stepping;
  matches: LayoutMatch[];
  /** Where no layout fits: one made from what is there. */
  proposal: Layout | null;
  /** In order of cylinder and head; only tracks that were read. */
  tracks: TrackDecode[];
  /** Tracks that hold something else than the layout has there, with a sentence each. */
  strange: { cylinder: number; head: number; what: Said }[];
  drive: DriveFacts;
  /** Ticks a second had to be worked out from the index pulses. */
  driveAssumed: boolean;
}

const DEFAULT_RPM = 300;
const DEFAULT_TICK_HZ = 24_000_000;

/** Drive facts from the header, or where it is hurt from the readings' own index pulses. */
export function driveFacts(
  header: Partial<ContainerHeader> | null,
  readings: readonly TrackReading[],
): { drive: DriveFacts; assumed: boolean } {
  const rpm = header?.rpm ?? DEFAULT_RPM;
  if (header?.tickHz)
    return { drive: { tickHz: header.tickHz, rpm }, assumed: header.rpm === undefined };
  const turns = readings
    .flatMap(({ index }) => index.slice(1).map((pulse, i) => pulse - index[i]!))
    .sort((a, b) => a - b);
  const turn = turns[turns.length >> 1];
  return {
    drive: { tickHz: turn ? Math.round((turn * rpm) / 60) : DEFAULT_TICK_HZ, rpm },
    assumed: true,
  };
}

/** Readings by track, tracks in order of cylinder and head. */
export function groupByTrack(readings: readonly TrackReading[]): TrackReading[][] {
  const groups = new Map<number, TrackReading[]>();
  for (const reading of readings) {
    const key = reading.cylinder * 2 + reading.head;
    const group = groups.get(key);
    if (group) group.push(reading);
    else groups.set(key, [reading]);
  }
  return [...groups].sort(([a], [b]) => a - b).map(([, group]) => group);
}

/** What a decoded track says about the layout. */
export function evidenceOf({ cylinder, head, formats, sectors }: TrackDecode): TrackEvidence {
  const [first] = formats;
  const found = first
    ? sectors
        .filter(({ grade, encoding }) => grade !== 'lost' && encoding === first.encoding)
        .map(({ c, h, r, size }) => ({ c, h, r, size }))
    : [];
  return {
    cylinder,
    head,
    encoding: first?.encoding ?? null,
    turnCells: first?.turnCells ?? 0,
    found,
  };
}

/**
 * Hurt tracks take unequally long and lie together: they are shared out in this many parts a
 * thread.
 */
const PARTS_OF_HURT = 6;

/** Shares the groups out in runs of neighbours, so that each thread's hints stay good. */
async function decodeGroups(
  workers: TrackWorkers,
  groups: readonly TrackReading[][],
  job: Omit<DecodeJob, 'groups'>,
  watch?: DecodeWatch,
): Promise<TrackDecode[]> {
  const isWhole = job.effort === 'plain' || (workers.threads === 1 && !watch);
  const count = isWhole ? workers.threads : workers.threads * PARTS_OF_HURT;
  const size = Math.max(1, Math.ceil(groups.length / count));
  const parts = Array.from({ length: Math.ceil(groups.length / size) }, (_, i) =>
    groups.slice(i * size, (i + 1) * size),
  );
  let done = 0;
  const decodePart = async (part: readonly TrackReading[][]) => {
    const tracks = await decodeWatched(workers, { ...job, groups: part }, watch);
    done += part.length;
    if (job.effort !== 'plain') watch?.told(done, groups.length);
    return tracks;
  };
  return (await Promise.all(parts.map(decodePart))).flat();
}

/** By single turns where a person will not wait for more; what was done before that stays. */
async function decodeWatched(
  workers: TrackWorkers,
  job: DecodeJob,
  watch: DecodeWatch | undefined,
): Promise<TrackDecode[]> {
  if (!watch?.hurry || job.effort !== 'full') return workers.decode(job, watch?.signal);
  const { signal, hurry, leftOut } = watch;
  try {
    return await workers.decode(job, AbortSignal.any([signal, hurry]));
  } catch (error) {
    signal.throwIfAborted();
    if (!hurry.aborted) throw error;
    const tracks = await workers.decode({ ...job, effort: 'by-turns' }, signal);
    leftOut?.(tracks);
    return tracks;
  }
}

interface DecodeCaptureOptions {
  layouts: readonly Layout[];
  /** Forces this one. */
  layout?: Layout | null;
  workers?: TrackWorkers;
  asMade?: ReadonlySet<string>;
  settings?: DecodeJob['settings'];
  /** What is done for tracks that lack something. */
  effort?: Exclude<Effort, 'plain'>;
  watch?: DecodeWatch;
}

/** Once more and with every means: the tracks that lack something. */
async function decodeAgain(
  workers: TrackWorkers,
  groups: readonly TrackReading[][],
  tracks: TrackDecode[],
  options: Parameters<typeof decodeGroups>[2],
  watch: DecodeWatch | undefined,
): Promise<void> {
  const { layout, stepping } = options;
  const again = groups.flatMap((_, i) => (needsMore(tracks[i]!, layout, stepping) ? [i] : []));
  const better = await decodeGroups(
    workers,
    again.map((i) => groups[i]!),
    options,
    watch,
  );
  for (const [at, i] of again.entries()) tracks[i] = better[at]!;
}

/**
 * Decodes all readings. Without a given layout the best that fits is taken; where none does, what
 * is there is given without one.
 */
export async function decodeCapture(
  header: Partial<ContainerHeader> | null,
  readings: readonly TrackReading[],
  {
    layouts,
    layout: given = null,
    workers = INLINE,
    asMade,
    settings,
    effort = 'full',
    watch,
  }: DecodeCaptureOptions,
): Promise<CaptureDecode> {
  const { drive, assumed } = driveFacts(header, readings);
  const groups = groupByTrack(readings);
  const plain = { drive, turns: 'as-needed', stepping: 1, layout: null, asMade, settings } as const;
  const tracks = await decodeGroups(workers, groups, { ...plain, effort: 'plain' }, watch);
  const form = header?.form ?? null;
  const looked = given ? { layouts: [given], form: null } : { layouts, form };
  let matches: LayoutMatch[] = [];
  let match: LayoutMatch | null = null;
  // Where the plain readings show too little to know the layout, the second round may, and a third
  // then looks for it.
  for (let round = 2; round <= 3 && !match; round++) {
    matches = matchLayouts(looked.layouts, looked.form, tracks.map(evidenceOf));
    match = given ? matches[0]! : bestMatch(matches);
    if (round === 3 && !match) break;
    const found = { layout: match?.layout ?? null, stepping: match?.stepping ?? 1 } as const;
    await decodeAgain(workers, groups, tracks, { ...plain, ...found, effort }, watch);
  }
  const layout = match?.layout ?? null;
  const stepping = match?.stepping ?? 1;
  const settled = tracks.map(evidenceOf);
  return {
    layout,
    stepping,
    matches,
    tracks,
    drive,
    driveAssumed: assumed,
    proposal: layout ? null : proposeLayout(settled, form, drive.rpm),
    strange: tracks.flatMap((track, i) => strangeness(track, settled[i]!, layout, stepping)),
  };
}

function needsMore(track: TrackDecode, layout: Layout | null, stepping: Stepping): boolean {
  const expected = layout && expectationAt(layout, stepping, track.cylinder, track.head);
  return (
    track.openArc > 0 ||
    track.sectors.some(({ grade }) => !isSound(grade)) ||
    (expected ? !isWhole(expected, track.sectors) : layout === null)
  );
}

function strangeness(
  track: TrackDecode,
  evidence: TrackEvidence,
  layout: Layout | null,
  stepping: Stepping,
): CaptureDecode['strange'] {
  const { cylinder, head, formats } = track;
  const say = (what: Said) => [{ cylinder, head, what }];
  if (formats.length > 1)
    return say(said('decode.holdsMoreThanOne', { formats: formats.map(describeFound) }));
  if (!layout || formats.length === 0 || follows(evidence, layout, stepping)) return [];
  if (cylinder % stepping !== 0) return say(said('decode.liesBetweenTwoCylinders'));
  return say(said('decode.holdsAnotherFormat', { format: describeFound(formats[0]!) }));
}

/**
 * Every sector: those found, those lost, and with a layout those on tracks that were not read; in
 * the order of the layout's image.
 */
export function allSectors({
  layout,
  tracks,
  stepping,
}: Pick<CaptureDecode, 'layout' | 'tracks' | 'stepping'>): TrackSector[] {
  if (!layout) return tracks.flatMap(({ sectors }) => sectors);
  const byTrack = new Map(tracks.map((track) => [track.cylinder * 2 + track.head, track]));
  const all: TrackSector[] = [];
  for (const { cylinder, head } of [...tracksOfImage(layout)].sort(
    (a, b) => a.cylinder - b.cylinder || a.head - b.head,
  )) {
    const position = cylinder * stepping;
    const track = byTrack.get(position * 2 + head);
    byTrack.delete(position * 2 + head);
    const expected = expectationAt(layout, stepping, position, head)!;
    all.push(
      ...(track ? withMissing(track, expected) : missingOf(expected, position, head, [], 'unread')),
    );
  }
  // Between two cylinders a drive that steps twice sees its neighbours once more.
  for (const track of byTrack.values())
    if (track.cylinder % stepping === 0) all.push(...track.sectors);
  return all;
}

function withMissing(
  { cylinder, head, sectors }: TrackDecode,
  expected: NonNullable<ReturnType<typeof expectationAt>>,
): TrackSector[] {
  const there = new Set(sectors.map(({ r, size }) => sectorKey(r, size)));
  return expected.sectors.every(({ r, size }) => there.has(sectorKey(r, size)))
    ? sectors
    : [...sectors, ...missingOf(expected, cylinder, head, sectors, 'lost')];
}
