/**
 * Decodes one track from all its readings: the plain recovery first, the dearer recoveries and
 * second looks only where something is missing or fails.
 */
import {
  RECOVERIES,
  classifyFlux,
  createEncodings,
  type CheckStrength,
  type Encoding,
  type FluxClass,
  type ReadingDecode,
  type RecoverySetting,
  type SectorSighting,
} from '@/core/encoding';
import type { TrackReading } from '@/core/flux/reading';
import { hasFullIds, sectorKey, type EncodingId, type Layout } from '@/core/layout/layout';
import { isSound } from '../grades';
import { remarkNumbers, remarkTrack } from '../merge/remarks';
import type { PlacedSighting, TrackSector } from '../track-sector';
import { expectationAt, missingOf, type Stepping } from './expectation';
import { Rescue } from './rescue';
import { lookAcrossIndex, lookIntoArcs } from './second-looks';
import { lookTogether } from './together-looks';
import {
  TrackWork,
  openArcOf,
  type DriveFacts,
  type FoundFormat,
  type Outcome,
} from './track-work';

export interface TrackDecode {
  /** Head position in the drive's own steps. */
  cylinder: number;
  head: number;
  sectors: TrackSector[];
  /** What is recorded on it, most sectors first. */
  formats: FoundFormat[];
  /** Code cell in ticks of the first format, 0 where none was found. */
  cellTicks: number;
  /** Share of a turn that no sector explains, where it is longer than any usual gap. */
  openArc: number;
  readings: number;
}

/**
 * Which turns are decoded: all of them, so that it shows how often each sector reads, or only as
 * many as it takes
 * until every sector was read with a right check.
 */
export type Turns = 'all' | 'as-needed';

/**
 * How much is done for a track. `plain` leaves out everything that only hurt tracks need; `by-turns`
 * leaves out what reads a track from all its turns at once, which takes its time: a drive that is
 * being read is not kept waiting for it.
 */
export type Effort = 'plain' | 'by-turns' | 'full';

interface DecodeTrackOptions {
  stepping?: Stepping;
  effort?: Effort;
  /** Sectors (`sectorName`) that are as they were made and must not be mended. */
  asMade?: ReadonlySet<string>;
  /** A setting of a person's own for this track, tried after the usual recoveries. */
  setting?: RecoverySetting;
}

/** A sector by the drive's position and its number. */
export const sectorName = ({ cylinder, head, r }: { cylinder: number; head: number; r: number }) =>
  `${cylinder}/${head}/${r}`;

const keyOf = ({ r, size }: { r: number; size: number }) => sectorKey(r, size);

type Enough = Parameters<Encoding['decode']>[1]['enough'];

/** A way of recording, and what it shows. */
interface DecodedAs {
  flux: FluxClass;
  result: ReadingDecode;
}

/** Beside a check of 16 bits the account of several turns has said what may be believed of a sector. */
const isAccountedFor = (group: readonly PlacedSighting[], check: CheckStrength): boolean =>
  check === 'strong' && group.some(({ account }) => account !== undefined && account.turns > 1);

/** Holds the scratch and what neighbouring tracks taught; one a thread. */
export class TrackDecoder {
  private readonly encodings = createEncodings();
  private hint: FluxClass | null = null;
  /** The code by which a track before was read from all its turns. */
  private fitting: FluxClass | null = null;
  /** Numbers and sizes on the last track that was read whole. */
  private lastKeys: ReadonlySet<number> | null = null;

  constructor(
    private readonly drive: DriveFacts,
    private readonly turns: Turns,
  ) {}

  /**
   * `readings` are all of one track, in the order read. With a layout its missing sectors are
   * looked for harder and listed as lost; without one only what was found counts.
   */
  decode(
    readings: readonly TrackReading[],
    layout: Layout | null,
    { stepping = 1, effort = 'full', asMade, setting }: DecodeTrackOptions = {},
  ): TrackDecode {
    const { cylinder, head } = readings[0]!;
    const expected = layout && expectationAt(layout, stepping, cylinder, head);
    const known = { expected, asMade, setting };
    const work = new TrackWork(readings, known, this.drive, this.encodings);
    const { groups, sectors } = this.settle(work, effort);
    remarkTrack(sectors, groups, work.isClean);
    if (effort !== 'plain') remarkNumbers(sectors, layout, cylinder / stepping);
    this.learn(work, sectors);
    const formats = work.formatsOf(sectors);
    return {
      cylinder,
      head,
      formats,
      cellTicks: formats[0]?.cellTicks ?? 0,
      readings: readings.length,
      openArc: openArcOf(sectors),
      sectors: expected
        ? [...sectors, ...missingOf(expected, cylinder, head, sectors, 'lost')]
        : sectors,
    };
  }

  private settle(work: TrackWork, effort: Effort): Outcome {
    this.readPlainly(work);
    const plain = work.outcome(false);
    if (effort === 'plain') return plain;
    const isExplained = work.isComplete(plain) && openArcOf(plain.sectors) === 0;
    // A track without a sector may be a hurt one.
    const mayHoldMore = effort === 'full' && plain.sectors.length === 0;
    if (isExplained && !mayHoldMore) return plain;
    return this.retryDecode(work, plain, effort);
  }

  private together(work: TrackWork, primary: FluxClass | null): void {
    this.fitting = lookTogether(work, primary, this.fitting ?? this.hint) ?? this.fitting;
  }

  private learn(work: TrackWork, sectors: readonly TrackSector[]): void {
    if (sectors.length > 0 && sectors.every(({ grade }) => isSound(grade)))
      this.lastKeys = new Set(sectors.map(keyOf));
    // A reading that was put together here is nowhere kept.
    for (const { source } of sectors)
      if (source && source.reading >= work.fromDrive) source.reading = 0;
  }

  private readPlainly(work: TrackWork): void {
    const keys = this.turns === 'as-needed' ? (work.expected?.keys ?? this.lastKeys) : null;
    const wanted = work.expected?.format.encoding ?? null;
    for (const [at, reading] of work.readings.entries()) {
      const enough = keys && {
        afterTicks: work.turnOf(at),
        test: (seen: readonly SectorSighting[], badIds: number) =>
          this.isEnough(seen, badIds, keys),
      };
      const decoded = this.decodeAny(reading, wanted, enough ?? undefined);
      if (!decoded) continue;
      const { flux, result } = decoded;
      work.classes[at] = flux;
      work.note(at, result);
      if (result.sightings.length > 0) this.hint = flux;
      if (keys && this.isEnough(result.sightings, result.badIds.length, keys)) break;
    }
  }

  /** The first code that the intervals fit and that shows a sector; null where there is none. */
  private decodeAny(
    reading: TrackReading,
    wanted: EncodingId | null,
    enough: Enough,
  ): DecodedAs | null {
    const tried = new Set<EncodingId>();
    let best: DecodedAs | null = null;
    for (const hint of this.hint ? [this.hint, null] : [null]) {
      const classes = classifyFlux(reading.flux, this.drive.tickHz, hint)
        .filter(({ encoding }) => !tried.has(encoding))
        .sort((a, b) => Number(b.encoding === wanted) - Number(a.encoding === wanted));
      for (const flux of classes) {
        tried.add(flux.encoding);
        const decoded = this.decodeAs(reading, flux, enough);
        const found = decoded.result.sightings.length;
        if (found > (best?.result.sightings.length ?? -1)) best = decoded;
        if (found > 0) return best;
      }
    }
    // Nothing fits clearly: what the neighbouring track holds is tried all the same.
    if (best || !this.hint || reading.flux.length === 0) return best;
    return this.decodeAs(reading, this.hint, enough);
  }

  private decodeAs(reading: TrackReading, flux: FluxClass, enough: Enough): DecodedAs {
    const { tickHz } = this.drive;
    const { encoding, cellTicks } = flux;
    const options = { tickHz, recovery: 'stepped' as const, cellTicks, enough };
    return { flux, result: this.encodings(encoding).decode(reading, options) };
  }

  private retryDecode(work: TrackWork, plain: Outcome, effort: Effort): Outcome {
    const isTogether = effort === 'full';
    const primary = work.classes.find((flux) => flux !== undefined) ?? null;
    const { times } = work;
    if (!primary || (work.isComplete(plain) && plain.sectors.length === 0)) {
      // Nothing to work on turn by turn: an unformatted track stays so under any recovery.
      if (isTogether) this.together(work, primary);
      return work.outcome(false);
    }
    const rescue = new Rescue(
      this.encodings(primary.encoding),
      times,
      (reading) => work.classes[reading]?.cellTicks ?? primary.cellTicks,
      work.isClean,
    );
    if (work.isComplete(plain)) {
      lookIntoArcs(work, times, primary, plain.sectors);
      return work.outcome(false);
    }
    let done = plain;
    for (const recovery of [...RECOVERIES, ...(work.setting ? ['by-hand' as const] : [])]) {
      this.decodeAll(work, primary, recovery);
      done = this.confirmed(work, rescue);
      if (work.isComplete(done)) return done;
    }
    lookAcrossIndex(work, times, primary);
    done = this.confirmed(work, rescue);
    if (isTogether) this.together(work, primary);
    done = work.outcome();
    lookIntoArcs(work, times, primary, done.sectors);
    this.rescue(work, rescue, primary);
    return work.outcome();
  }

  /** What was seen so far, with the weak checks of what is not settled looked at by their times. */
  private confirmed(work: TrackWork, rescue: Rescue): Outcome {
    const { groups, sectors } = work.outcome();
    for (const [i, group] of groups.entries())
      if (!isSound(sectors[i]!.grade)) rescue.confirmWeakCheck(group);
    return work.outcome();
  }

  /**
   * Every reading by one recovery. The turns that a plain reading left out, because the first seemed
   * enough for the track before, come first.
   */
  private decodeAll(
    work: TrackWork,
    primary: FluxClass,
    recovery: (typeof RECOVERIES)[number] | 'by-hand',
  ): void {
    if (recovery === 'stepped' && this.turns === 'all') return;
    const { tickHz } = this.drive;
    const { setting } = work;
    for (let at = 0; at < work.fromDrive; at++) {
      const { encoding, cellTicks } = work.classes[at] ?? primary;
      const options = { tickHz, recovery, cellTicks, setting };
      work.note(at, this.encodings(encoding).decode(work.readings[at]!, options));
    }
  }

  private rescue(work: TrackWork, rescue: Rescue, primary: FluxClass): void {
    if (work.expected) {
      const missing = missingOf(work.expected, 0, 0, work.outcome().sectors, 'lost');
      work.sightings.push(
        ...rescue.ofIds(work.badIds, work.strays, (id) =>
          missing.some(({ c, h, r, n }) => c === id.c && h === id.h && r === id.r && n === id.n),
        ),
      );
    }
    const { groups, sectors } = work.outcome();
    for (const [i, group] of groups.entries()) {
      const isOfCode = group[0]!.sighting.encoding === primary.encoding;
      if (!isOfCode || !this.mayBeRescued(work, sectors[i]!, primary)) continue;
      if (isAccountedFor(group, work.encodings(primary.encoding).check)) continue;
      const strays = rescue.strayFields(group, work.strays, work.turnOf(0));
      work.sightings.push(...strays, ...rescue.recoverSector([...group, ...strays]));
    }
  }

  /** Versions that pass their check and contradict each other are no case for guessing. */
  private mayBeRescued(work: TrackWork, sector: TrackSector, primary: FluxClass): boolean {
    if (isSound(sector.grade) || work.asMade?.has(sectorName(sector))) return false;
    return sector.seenSound === 0 || !hasFullIds(primary.encoding);
  }

  /**
   * Every expected sector, and every other one seen, was read with a right check and without a
   * broken cell.
   */
  private isEnough(
    sightings: readonly SectorSighting[],
    badIds: number,
    expected: ReadonlySet<number>,
  ): boolean {
    if (badIds > 0) return false;
    const sound = new Set<number>();
    for (const sighting of sightings) {
      if (!sighting.dataOk || sighting.violations > 0 || !sighting.intact) return false;
      sound.add(keyOf(sighting));
    }
    for (const key of expected) if (!sound.has(key)) return false;
    return true;
  }
}
