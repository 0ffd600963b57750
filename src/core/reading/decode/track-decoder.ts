/**
 * Decodes one track from all its readings: the plain recovery first, the dearer recoveries and
 * second looks only where
 * something is missing or fails.
 */
import {
  RECOVERIES,
  classifyFlux,
  createEncodings,
  type Encoding,
  type FluxClass,
  type ReadingDecode,
  type RecoverySetting,
  type SectorSighting,
} from '@/core/encoding';
import type { TrackReading } from '@/core/flux/reading';
import { hasFullIds, sectorKey, type EncodingId, type Layout } from '@/core/layout/layout';
import { arcReading, findUnexplainedSpans } from './unexplained-spans';
import { expectationAt, isWhole, missingOf, type Expectation, type Stepping } from './expectation';
import { isSound } from '../grades';
import { groupSightings, resolveSector } from '../merge/merge';
import { type PlacedSighting, type TrackSector } from '../track-sector';
import { remarkNumbers, remarkTrack } from '../merge/remarks';
import { Rescue } from './rescue';
import { type PlacedStart } from './placed-start';
import { placeStart } from './stray-fields';
import { TrackTimes } from './track-times';
import { spliceAtIndex } from './seam';
import { angleAt, nominalTurn, turnTicks } from './turn';

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

interface DecodeTrackOptions {
  stepping?: Stepping;
  /** `plain` leaves out everything that only hurt tracks need. */
  effort?: 'plain' | 'full';
  /** Sectors (`sectorName`) that are as they were made and must not be mended. */
  asMade?: ReadonlySet<string>;
  /** A setting of a person's own for this track, tried after the usual recoveries. */
  setting?: RecoverySetting;
}

/** A sector by the drive's position and its number. */
export const sectorName = ({ cylinder, head, r }: { cylinder: number; head: number; r: number }) =>
  `${cylinder}/${head}/${r}`;

const keyOf = ({ r, size }: { r: number; size: number }) => sectorKey(r, size);
/** Cells as long as the track's own within this share are its own code again. */
const SAME_CELL = 0.04;

/** One track's work: readings, what was seen, and how it was recorded. */
interface Work {
  readings: TrackReading[];
  /** Of these, as they came from the drive; the rest are put together from them. */
  fromDrive: number;
  sightings: PlacedSighting[];
  badIds: PlacedStart[];
  strays: PlacedStart[];
  classes: (FluxClass | undefined)[];
  expected: Expectation | null;
  asMade: ReadonlySet<string> | undefined;
  setting: RecoverySetting | undefined;
  firstPass: number;
}

/** Holds the scratch and what neighbouring tracks taught; one a thread. */
export class TrackDecoder {
  private readonly encodings = createEncodings();
  private hint: FluxClass | null = null;
  /** Numbers and sizes on the last track that was read whole. */
  private lastKeys: ReadonlySet<number> | null = null;

  constructor(
    private readonly drive: DriveFacts,
    private readonly turns: Turns,
  ) {}

  /**
   * `readings` are all of one track, in the order read. With a layout its missing sectors are
   * looked for harder and
   * listed as lost; without one only what was found counts.
   */
  decode(
    readings: readonly TrackReading[],
    layout: Layout | null,
    { stepping = 1, effort = 'full', asMade, setting }: DecodeTrackOptions = {},
  ): TrackDecode {
    const { cylinder, head } = readings[0]!;
    const expected = layout && expectationAt(layout, stepping, cylinder, head);
    const work: Work = {
      asMade,
      setting,
      readings: [...readings],
      fromDrive: readings.length,
      sightings: [],
      badIds: [],
      strays: [],
      classes: [],
      expected,
      firstPass: Math.min(...readings.map(({ pass }) => pass)),
    };
    this.readPlainly(work);
    let done = this.outcome(work, false);
    if (effort === 'full' && !(this.isComplete(work, done) && this.openArc(done.sectors) === 0))
      done = this.retryDecode(work, done);
    const { groups, sectors } = done;
    remarkTrack(sectors, groups);
    if (effort === 'full') remarkNumbers(sectors, layout, cylinder / stepping);
    if (sectors.length > 0 && sectors.every(({ grade }) => isSound(grade)))
      this.lastKeys = new Set(sectors.map(keyOf));
    for (const { source } of sectors)
      if (source && source.reading >= work.fromDrive) source.reading = 0;
    const formats = this.formatsOf(work, sectors);
    return {
      cylinder,
      head,
      formats,
      cellTicks: formats[0]?.cellTicks ?? 0,
      readings: readings.length,
      openArc: this.openArc(done.sectors),
      sectors: expected
        ? [...sectors, ...missingOf(expected, cylinder, head, sectors, 'lost')]
        : sectors,
    };
  }

  private get nominal(): number {
    return nominalTurn(this.drive.tickHz, this.drive.rpm);
  }

  private readPlainly(work: Work): void {
    const { expected, readings } = work;
    const keys = expected?.keys ?? this.lastKeys;
    for (const [at, reading] of readings.entries()) {
      const turn = turnTicks(reading, this.nominal);
      const enough =
        this.turns === 'as-needed' && keys
          ? {
              afterTicks: turn,
              test: (seen: readonly SectorSighting[], badIds: number) =>
                this.isEnough(seen, badIds, keys),
            }
          : undefined;
      const decoded = this.decodeAny(reading, expected?.format.encoding ?? null, enough);
      if (!decoded) continue;
      work.classes[at] = decoded.flux;
      this.note(work, at, decoded.result);
      if (decoded.result.sightings.length > 0) this.hint = decoded.flux;
      if (enough && this.isEnough(decoded.result.sightings, decoded.result.badIds.length, keys!))
        break;
    }
  }

  /** The first code that the intervals fit and that shows a sector; null where there is none. */
  private decodeAny(
    reading: TrackReading,
    wanted: EncodingId | null,
    enough: Parameters<Encoding['decode']>[1]['enough'],
  ): { flux: FluxClass; result: ReadingDecode } | null {
    const { tickHz } = this.drive;
    const tried = new Set<EncodingId>();
    let best: { flux: FluxClass; result: ReadingDecode } | null = null;
    for (const hint of this.hint ? [this.hint, null] : [null]) {
      const classes = classifyFlux(reading.flux, tickHz, hint).filter(
        ({ encoding }) => !tried.has(encoding),
      );
      for (const flux of [...classes].sort(
        (a, b) => Number(b.encoding === wanted) - Number(a.encoding === wanted),
      )) {
        tried.add(flux.encoding);
        const result = this.encodings(flux.encoding).decode(reading, {
          tickHz,
          recovery: 'stepped',
          cellTicks: flux.cellTicks,
          enough,
        });
        if (result.sightings.length > (best?.result.sightings.length ?? -1))
          best = { flux, result };
        if (result.sightings.length > 0) return best;
      }
    }
    // Nothing fits clearly: what the neighbouring track holds is tried all the same.
    if (best || !this.hint || reading.flux.length === 0) return best;
    return {
      flux: this.hint,
      result: this.encodings(this.hint.encoding).decode(reading, {
        tickHz,
        recovery: 'stepped',
        cellTicks: this.hint.cellTicks,
        enough,
      }),
    };
  }

  private note(
    work: Work,
    at: number,
    { sightings, badIds, strays }: ReadingDecode,
    keep: (placed: PlacedSighting) => boolean = () => true,
  ): void {
    const reading = work.readings[at]!;
    const { nominal } = this;
    const turn = turnTicks(reading, nominal);
    for (const sighting of sightings) {
      const placed = {
        sighting,
        reading: at,
        pass: reading.pass,
        ...angleAt(reading, sighting.startTick, nominal),
        span: (sighting.endTick - sighting.startTick) / turn,
        ...(sighting.recovery === 'by-hand' && { mending: 'by-hand' as const }),
      };
      if (keep(placed)) work.sightings.push(placed);
    }
    for (const start of badIds) work.badIds.push(placeStart(start, reading, at, nominal));
    for (const start of strays) work.strays.push(placeStart(start, reading, at, nominal));
  }

  private outcome(
    { sightings, expected, firstPass, readings }: Work,
    hurt = true,
  ): { groups: PlacedSighting[][]; sectors: TrackSector[] } {
    const { cylinder, head } = readings[0]!;
    const settled = groupSightings(sightings).map((group) => ({
      group,
      sector: resolveSector(
        cylinder,
        head,
        group,
        firstPass,
        this.encodings(group[0]!.sighting.encoding).check,
        hurt,
      ),
    }));
    // A weakly checked ID that one turn alone shows, with nothing sound behind it, was most likely
    // never written.
    const believable = settled.filter(
      ({ sector: { encoding, grade, seen, r, size } }) =>
        hasFullIds(encoding) ||
        isSound(grade) ||
        seen > 1 ||
        expected?.keys.has(sectorKey(r, size)),
    );
    return {
      groups: believable.map(({ group }) => group),
      sectors: believable.map(({ sector }) => sector),
    };
  }

  private isComplete(
    { expected, badIds }: Work,
    { sectors }: { sectors: readonly TrackSector[] },
  ): boolean {
    return (
      sectors.every(({ grade }) => isSound(grade)) &&
      (expected ? isWhole(expected, sectors) : badIds.length === 0)
    );
  }

  private openArc(sectors: readonly TrackSector[]): number {
    const covered = sectors.flatMap(({ angle, span }) =>
      angle !== null && span !== null ? [{ angle, span }] : [],
    );
    return covered.length === 0
      ? 0
      : Math.max(0, ...findUnexplainedSpans(covered).map(({ from, to }) => to - from));
  }

  private retryDecode(
    work: Work,
    plain: ReturnType<TrackDecoder['outcome']>,
  ): ReturnType<TrackDecoder['outcome']> {
    const { tickHz } = this.drive;
    const primary = work.classes.find((flux) => flux !== undefined);
    // Nothing to work on: an unformatted track stays so under any recovery.
    if (!primary) return plain;
    const times = new TrackTimes(work.readings, tickHz);
    if (this.isComplete(work, plain)) {
      this.lookIntoArcs(work, times, primary, plain.sectors);
      return this.outcome(work, false);
    }
    const rescue = new Rescue(
      this.encodings(primary.encoding),
      times,
      (reading) => work.classes[reading]?.cellTicks ?? primary.cellTicks,
    );
    let done = plain;
    // The turns that a plain reading left out, because the first seemed enough for the track
    // before, come first.
    for (const recovery of [...RECOVERIES, ...(work.setting ? ['by-hand' as const] : [])]) {
      for (let at = 0; at < work.fromDrive; at++) {
        const { encoding, cellTicks } = work.classes[at] ?? primary;
        if (recovery !== 'stepped' || this.turns === 'as-needed')
          this.note(
            work,
            at,
            this.encodings(encoding).decode(work.readings[at]!, {
              tickHz,
              recovery,
              cellTicks,
              setting: work.setting,
            }),
          );
      }
      done = this.outcome(work);
      if (this.encodings(primary.encoding).check === 'weak') {
        for (const [i, group] of done.groups.entries())
          if (!isSound(done.sectors[i]!.grade)) rescue.confirmWeakCheck(group);
        done = this.outcome(work);
      }
      if (this.isComplete(work, done)) return done;
    }
    this.lookAcrossIndex(work, times, primary);
    this.lookIntoArcs(work, times, primary, done.sectors);
    this.rescue(work, rescue, primary);
    return this.outcome(work);
  }

  private lookAcrossIndex(work: Work, times: TrackTimes, { encoding, cellTicks }: FluxClass): void {
    const { tickHz } = this.drive;
    for (let at = 0; at < work.fromDrive; at++) {
      const joined = spliceAtIndex(work.readings[at]!, times.of(at));
      if (!joined) continue;
      const pulse = joined.index[0]!;
      const place = times.add(joined);
      work.readings[place] = joined;
      for (const recovery of RECOVERIES) {
        const decoded = this.encodings(encoding).decode(joined, { tickHz, recovery, cellTicks });
        // What lies on one side only was read there already, and must not count twice.
        this.note(
          work,
          place,
          { ...decoded, badIds: [], strays: [] },
          ({ sighting }) => sighting.startTick < pulse && sighting.endTick > pulse,
        );
      }
    }
  }

  /** Looks for another code or rate where no sector was found. */
  private lookIntoArcs(
    work: Work,
    times: TrackTimes,
    primary: FluxClass,
    sectors: readonly TrackSector[],
  ): void {
    const { tickHz } = this.drive;
    const covered = sectors.flatMap(({ angle, span }) =>
      angle !== null && span !== null ? [{ angle, span }] : [],
    );
    for (const arc of findUnexplainedSpans(covered)) {
      for (let at = 0; at < work.fromDrive; at++) {
        const reading = work.readings[at]!;
        const cut = arcReading(reading, times.of(at), arc, turnTicks(reading, this.nominal));
        if (!cut) continue;
        for (const flux of classifyFlux(cut.part.flux, tickHz, null)) {
          if (
            flux.encoding === primary.encoding &&
            Math.abs(flux.cellTicks / primary.cellTicks - 1) < SAME_CELL
          )
            continue;
          for (const recovery of ['stepped', 'loop'] as const) {
            const { sightings } = this.encodings(flux.encoding).decode(cut.part, {
              tickHz,
              recovery,
              cellTicks: flux.cellTicks,
            });
            const moved = sightings.map((sighting) => ({
              ...sighting,
              startTick: sighting.startTick + cut.base,
              endTick: sighting.endTick + cut.base,
              syncTick: sighting.syncTick + cut.base,
            }));
            this.note(work, at, {
              sightings: moved,
              badIds: [],
              strays: [],
              cellTicks: flux.cellTicks,
            });
          }
        }
      }
    }
  }

  private rescue(work: Work, rescue: Rescue, primary: FluxClass): void {
    const { expected } = work;
    if (expected) {
      const missing = missingOf(expected, 0, 0, this.outcome(work).sectors, 'lost');
      work.sightings.push(
        ...rescue.ofIds(work.badIds, work.strays, (id) =>
          missing.some(({ c, h, r, n }) => c === id.c && h === id.h && r === id.r && n === id.n),
        ),
      );
    }
    const { groups, sectors } = this.outcome(work);
    const turn = turnTicks(work.readings[0]!, this.nominal);
    for (const [i, group] of groups.entries()) {
      if (
        isSound(sectors[i]!.grade) ||
        work.asMade?.has(sectorName(sectors[i]!)) ||
        group[0]!.sighting.encoding !== primary.encoding
      )
        continue;
      // Versions that pass their check and contradict each other are no case for guessing.
      if (sectors[i]!.seenSound > 0 && hasFullIds(primary.encoding)) continue;
      const strays = rescue.strayFields(group, work.strays, turn);
      work.sightings.push(...strays, ...rescue.recoverSector([...group, ...strays]));
    }
  }

  private formatsOf(
    { classes, sightings, readings }: Work,
    sectors: readonly TrackSector[],
  ): FoundFormat[] {
    const turn = turnTicks(readings[0]!, this.nominal);
    const formats: FoundFormat[] = [];
    for (const sector of sectors) {
      let format = formats.find(({ encoding }) => encoding === sector.encoding);
      if (!format) {
        const cellTicks =
          classes.find((flux) => flux?.encoding === sector.encoding)?.cellTicks ??
          this.cellOf(sector.encoding, sightings);
        formats.push(
          (format = {
            encoding: sector.encoding,
            cellTicks,
            turnCells: cellTicks > 0 ? turn / cellTicks : 0,
            sectors: [],
          }),
        );
      }
      if (sector.grade !== 'lost') format.sectors.push({ r: sector.r, size: sector.size });
    }
    return formats.sort((a, b) => b.sectors.length - a.sectors.length);
  }

  /** Cell of a code that was found in an arc only, from the length of its data fields. */
  private cellOf(encoding: EncodingId, sightings: readonly PlacedSighting[]): number {
    const whole = sightings.find(
      ({ sighting }) =>
        sighting.encoding === encoding && sighting.syncTick > 0 && sighting.check >= 0,
    );
    return whole
      ? (whole.sighting.endTick - whole.sighting.syncTick) /
          this.encodings(encoding).fieldCells(whole.sighting.size)
      : 0;
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
