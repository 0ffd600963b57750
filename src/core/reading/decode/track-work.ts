/** One track while it is decoded: its readings, what was seen in them, and what that comes to. */
import {
  firstAtOrAfter,
  type Encoding,
  type FluxClass,
  type ReadingDecode,
  type RecoverySetting,
} from '@/core/encoding';
import type { TrackReading } from '@/core/flux/reading';
import { hasFullIds, sectorKey, type EncodingId } from '@/core/layout/layout';
import { isSound } from '../grades';
import { isWrittenCleanly, type FieldTimes } from '../merge/clean-writing';
import { groupSightings, resolveSector } from '../merge/merge';
import { onePerTurn, type IsClean } from '../merge/remarks';
import type { PlacedSighting, TrackSector } from '../track-sector';
import { isWhole, type Expectation } from './expectation';
import type { PlacedStart } from './placed-start';
import { placeStart } from './stray-fields';
import { TrackTimes } from './track-times';
import { angleAt, nominalTurn, turnTicks } from './turn';
import { findUnexplainedSpans } from './unexplained-spans';

export interface DriveFacts {
  tickHz: number;
  rpm: number;
}

/** A way of recording found on a track. */
export interface FoundFormat {
  encoding: EncodingId;
  /** Code cell in ticks, and in cells a turn, which does not depend on the drive's speed. */
  cellTicks: number;
  turnCells: number;
  sectors: { r: number; size: number }[];
}

/** What the sightings so far come to: each sector, and the sightings that it was settled from. */
export interface Outcome {
  groups: PlacedSighting[][];
  sectors: TrackSector[];
}

/** Where sectors lie, of those that have a place. */
export const coveredBy = (sectors: readonly TrackSector[]) =>
  sectors.flatMap(({ angle, span }) => (angle !== null && span !== null ? [{ angle, span }] : []));

/** The longest share of a turn that no sector explains; 0 where none was found. */
export function openArcOf(sectors: readonly TrackSector[]): number {
  const covered = coveredBy(sectors);
  if (covered.length === 0) return 0;
  return Math.max(0, ...findUnexplainedSpans(covered).map(({ from, to }) => to - from));
}

/** What is known of a track before it is read. */
interface KnownOfTrack {
  expected: Expectation | null;
  /** Sectors (`sectorName`) that are as they were made and must not be mended. */
  asMade: ReadonlySet<string> | undefined;
  setting: RecoverySetting | undefined;
}

export class TrackWork {
  readonly readings: TrackReading[];
  /** Of the readings, as they came from the drive; the rest are put together from them. */
  readonly fromDrive: number;
  readonly sightings: PlacedSighting[] = [];
  readonly badIds: PlacedStart[] = [];
  readonly strays: PlacedStart[] = [];
  /** How each reading was recorded, where that was found. */
  readonly classes: (FluxClass | undefined)[] = [];
  readonly expected: Expectation | null;
  readonly asMade: ReadonlySet<string> | undefined;
  readonly setting: RecoverySetting | undefined;
  readonly times: TrackTimes;
  private readonly firstPass: number;
  private readonly nominal: number;

  constructor(
    readings: readonly TrackReading[],
    { expected, asMade, setting }: KnownOfTrack,
    readonly drive: DriveFacts,
    readonly encodings: (id: EncodingId) => Encoding,
  ) {
    this.readings = [...readings];
    this.fromDrive = readings.length;
    this.expected = expected;
    this.asMade = asMade;
    this.setting = setting;
    this.times = new TrackTimes(readings, drive.tickHz);
    this.firstPass = Math.min(...readings.map(({ pass }) => pass));
    this.nominal = nominalTurn(drive.tickHz, drive.rpm);
  }

  /** Ticks of one turn of a reading. */
  turnOf(at: number): number {
    return turnTicks(this.readings[at]!, this.nominal);
  }

  /** Takes in what was seen in a reading, with its place on the track. */
  note(
    at: number,
    { sightings, badIds, strays }: Pick<ReadingDecode, 'sightings' | 'badIds' | 'strays'>,
    keep: (placed: PlacedSighting) => boolean = () => true,
  ): void {
    const { nominal } = this;
    const reading = this.readings[at]!;
    const turn = this.turnOf(at);
    for (const sighting of sightings) {
      const placed = {
        sighting,
        reading: at,
        pass: reading.pass,
        ...angleAt(reading, sighting.startTick, nominal),
        span: (sighting.endTick - sighting.startTick) / turn,
        ...(sighting.recovery === 'by-hand' && { mending: 'by-hand' as const }),
      };
      if (keep(placed)) this.sightings.push(placed);
    }
    for (const start of badIds) this.badIds.push(placeStart(start, reading, at, nominal));
    for (const start of strays) this.strays.push(placeStart(start, reading, at, nominal));
  }

  /** Settles what was seen; `hurt` also weighs sightings against each other. */
  outcome(hurt = true): Outcome {
    const settled = groupSightings(this.sightings).map((group) => ({
      group,
      sector: this.settle(group, hurt),
    }));
    const believable = settled.filter(
      ({ group, sector }) =>
        this.isBelievable(sector) || (sector.seen > 0 && group.some(({ together }) => together)),
    );
    return {
      groups: believable.map(({ group }) => group),
      sectors: believable.map(({ sector }) => sector),
    };
  }

  private settle(group: PlacedSighting[], hurt: boolean): TrackSector {
    const { cylinder, head } = this.readings[0]!;
    const { check } = this.encodings(group[0]!.sighting.encoding);
    return resolveSector(cylinder, head, group, this.firstPass, check, hurt);
  }

  /**
   * A weakly checked ID that one turn alone shows, with nothing sound behind it, was most likely
   * never written.
   */
  private isBelievable({ encoding, grade, seen, r, size }: TrackSector): boolean {
    const isExpected = this.expected?.keys.has(sectorKey(r, size)) ?? false;
    return hasFullIds(encoding) || isSound(grade) || seen > 1 || isExpected;
  }

  /** Whether a field was written as cleanly as the track's sound ones, by its times. */
  readonly isClean: IsClean = (turns) => {
    const { groups, sectors } = this.outcome(false);
    const sound = groups.filter((_, i) => isSound(sectors[i]!.grade)).map(onePerTurn);
    return isWrittenCleanly(turns, sound, (placed) => this.timesOf(placed));
  };

  /** The times of a data field as a turn of the drive gave them. */
  private timesOf({ reading, sighting, mending, together }: PlacedSighting): FieldTimes | null {
    const { encoding, syncTick, endTick, size } = sighting;
    if (together || mending || reading >= this.fromDrive || syncTick <= 0) return null;
    const { times, count } = this.times.of(reading);
    const from = firstAtOrAfter(times, count, syncTick - 0.5);
    const to = firstAtOrAfter(times, count, endTick);
    const cellTicks = (endTick - syncTick) / this.encodings(encoding).fieldCells(size);
    return cellTicks > 0 ? { times: times.subarray(from, to), cellTicks } : null;
  }

  isComplete({ sectors }: Outcome): boolean {
    if (!sectors.every(({ grade }) => isSound(grade))) return false;
    return this.expected ? isWhole(this.expected, sectors) : this.badIds.length === 0;
  }

  /** What is recorded on the track, most sectors first. */
  formatsOf(sectors: readonly TrackSector[]): FoundFormat[] {
    const formats = new Map<EncodingId, FoundFormat>();
    for (const { encoding, grade, r, size } of sectors) {
      const format = formats.get(encoding) ?? this.formatOf(encoding);
      formats.set(encoding, format);
      if (grade !== 'lost') format.sectors.push({ r, size });
    }
    return [...formats.values()].sort((a, b) => b.sectors.length - a.sectors.length);
  }

  private formatOf(encoding: EncodingId): FoundFormat {
    const known = this.classes.find((flux) => flux?.encoding === encoding);
    const cellTicks = known?.cellTicks ?? this.cellOf(encoding);
    const turnCells = cellTicks > 0 ? this.turnOf(0) / cellTicks : 0;
    return { encoding, cellTicks, turnCells, sectors: [] };
  }

  /** Cell of a code that was found in an arc only, from the length of its data fields. */
  private cellOf(encoding: EncodingId): number {
    const whole = this.sightings.find(
      ({ sighting }) =>
        sighting.encoding === encoding && sighting.syncTick > 0 && sighting.check >= 0,
    );
    if (!whole) return 0;
    const { endTick, syncTick, size } = whole.sighting;
    return (endTick - syncTick) / this.encodings(encoding).fieldCells(size);
  }
}
