/**
 * Second looks at sectors that no plain reading gave: fields read by maximum likelihood in one
 * turn, over several turns
 * at once, with the few least certain places turned over, and ID and data fields of different
 * turns put together.
 * Whatever comes of it is a sighting with its method. A check of 16 bits can vouch for a handful
 * of doubtful places
 * only, the weak checks of the group codes for none: fields with more are left doubtful even if
 * their check passes.
 */
import {
  addGains,
  gainsOfWindow,
  RUNS,
  type CellGains,
  type Encoding,
  type FieldStart,
  type SectorSighting,
  type SoftField,
} from '@/core/encoding';
import { MAX_ID_TO_DATA, isDataMark } from '@/core/encoding/id-mark/marks';
import { wrongCheckAsMade, type IsClean } from '../merge/remarks';
import type { PlacedSighting } from '../track-sector';
import { TrackTimes } from './track-times';
import { sightingOf, emptySighting, clusters } from './stray-fields';
import type { PlacedStart } from './placed-start';

/**
 * A place is doubtful below this margin, or this share of what one transition can give over all
 * the turns: noise differs
 * from turn to turn and adds up slowly, but a place hurt on the medium looks the same in each.
 */
const DOUBTFUL = {
  strong: { margin: 2.5, share: 0.1 },
  weak: { margin: 2.5, share: 0.45 },
} as const;

/** Most doubtful places that a 16-bit check may vouch for. */
const MAX_DOUBTS = 5;

/**
 * Places turned over by trial: so few that a right check by chance stays below one in two thousand.
 */
const TRIAL_PLACES = 4;

const TRIAL = { margin: 4, share: 0.3 } as const;

/** ID bytes and mark, in cells. */
const ID_BYTES = 7;

const ID_CELLS = ID_BYTES * 16;

/** Zeros and A1h before an ID. */
const LONGEST_SYNC = 15;

/** Sums of the margins of every choice of up to three of the places, smallest first. */
function trials(doubts: readonly { place: number; margin: number }[]): number[][] {
  const choices: { places: number[]; margin: number }[] = [];
  for (let bits = 1; bits < 1 << doubts.length; bits++) {
    const chosen = doubts.filter((_, i) => (bits >>> i) & 1);
    if (chosen.length <= 3)
      choices.push({
        places: chosen.map(({ place }) => place),
        margin: chosen.reduce((sum, { margin }) => sum + margin, 0),
      });
  }
  return choices.sort((a, b) => a.margin - b.margin).map(({ places }) => places);
}

export class Rescue {
  /**
   * `cellTicks` is the length of a cell in a reading, by its number; drives of different speeds may
   * have read.
   */
  constructor(
    private readonly encoding: Encoding,
    private readonly times: TrackTimes,
    private readonly cellTicks: (reading: number) => number,
    private readonly isClean: IsClean,
  ) {}

  /**
   * Looks whether fields of a group that passed a weak check have no place in doubt by their timing
   * either.
   */
  confirmWeakCheck(group: readonly PlacedSighting[]): void {
    if (this.encoding.check === 'strong') return;
    for (const placed of group) {
      const { sighting, reading } = placed;
      if (
        placed.sure !== undefined ||
        !sighting.dataOk ||
        !sighting.intact ||
        sighting.violations > 0 ||
        sighting.encoding !== this.encoding.id
      )
        continue;
      const field = this.gainsAt(reading, sighting, this.encoding.fieldCells(sighting.size));
      const soft = field && this.encoding.readField(field, sighting.size);
      placed.sure =
        soft !== null &&
        this.believable(soft, field!) &&
        soft.data.every((byte, i) => byte === sighting.data![i]);
    }
  }

  /**
   * Further sightings of a sector whose group is not settled; none where it seems to be as it was
   * made.
   */
  recoverSector(group: readonly PlacedSighting[]): PlacedSighting[] {
    if (wrongCheckAsMade(group, this.isClean)) return [];
    const byTurn = new Map<number, PlacedSighting>();
    for (const placed of group) {
      const key = placed.reading * 65536 + placed.turn;
      if (placed.sighting.syncTick > 0 && !byTurn.has(key)) byTurn.set(key, placed);
    }
    const found: PlacedSighting[] = [];
    const gains: { placed: PlacedSighting; field: CellGains }[] = [];
    for (const placed of byTurn.values()) {
      const field = this.gainsAt(
        placed.reading,
        placed.sighting,
        this.encoding.fieldCells(placed.sighting.size),
      );
      if (!field) continue;
      gains.push({ placed, field });
      const soft = this.encoding.readField(field, placed.sighting.size);
      if (this.believable(soft, field))
        found.push(sightingOf(placed, soft, placed.mending ?? 'likelihood'));
    }
    const [first] = gains;
    if (found.length > 0 || !first) return found;
    const all = gains.length > 1 ? addGains(gains.map(({ field }) => field)) : first.field;
    const size = first.placed.sighting.size;
    const together = this.encoding.readField(all, size);
    if (gains.length > 1 && this.believable(together, all))
      return [sightingOf(first.placed, together, 'voting')];
    return this.byTrial(first.placed, together, all, size);
  }

  /**
   * ID fields whose check failed, read over all turns that saw them; given on only where `expected`
   * knows the ID.
   */
  ofIds(
    starts: readonly PlacedStart[],
    strays: readonly PlacedStart[],
    expected: (id: Pick<SectorSighting, 'c' | 'h' | 'r' | 'n' | 'size'>) => boolean,
  ): PlacedSighting[] {
    if (this.encoding.check === 'weak') return [];
    const found: PlacedSighting[] = [];
    for (const cluster of clusters(starts)) {
      const gains = cluster.flatMap((start) => this.gainsAt(start.reading, start, ID_CELLS) ?? []);
      if (gains.length === 0) continue;
      const id = this.encoding.readId(addGains(gains));
      if (!id || !expected(id)) continue;
      for (const start of cluster) {
        const stray = strays.find(
          (each) =>
            each.reading === start.reading &&
            each.syncTick > start.syncTick &&
            each.syncTick - start.syncTick < this.range(start.reading),
        );
        const turn = {
          reading: start.reading,
          pass: start.pass,
          turn: start.turn,
          angle: start.angle,
        };
        found.push({
          ...turn,
          span: 0,
          mending: 'voting',
          sighting: {
            ...emptySighting(this.encoding.id),
            ...id,
            startTick: start.syncTick,
            endTick: start.syncTick,
            ...(stray && { syncTick: stray.syncTick, syncCells: stray.syncCells, mark: 0xfb }),
          },
        });
      }
    }
    return found;
  }

  /** Data fields of turns in which the ID of this group could not be read. */
  strayFields(
    group: readonly PlacedSighting[],
    strays: readonly PlacedStart[],
    turnTicks: number,
  ): PlacedSighting[] {
    const first = group[0]!;
    const seen = new Set(
      group
        .filter(({ sighting }) => sighting.syncTick > 0)
        .map(({ reading, turn }) => reading * 65536 + turn),
    );
    const range = this.range(first.reading, LONGEST_SYNC) / turnTicks;
    return strays.flatMap((stray) => {
      const behind = (stray.angle - first.angle + 1) % 1;
      if (behind > range || seen.has(stray.reading * 65536 + stray.turn)) return [];
      seen.add(stray.reading * 65536 + stray.turn);
      const { syncTick, syncCells, ...turn } = stray;
      return [
        {
          ...turn,
          angle: first.angle,
          span: first.span,
          mending: 'joined' as const,
          sighting: {
            ...first.sighting,
            data: null,
            dataOk: false,
            check: -1,
            violations: 0,
            mark: 0xfb,
            syncTick,
            syncCells,
            recovery: 'likelihood' as const,
          },
        },
      ];
    });
  }

  /**
   * From an ID's mark, or its first sync byte, to the sync of its data field, in ticks, at the
   * most.
   */
  private range(reading: number, syncBytes = 0): number {
    return (syncBytes + ID_BYTES + MAX_ID_TO_DATA - 1.5) * 16 * this.cellTicks(reading);
  }

  private gainsAt(
    reading: number,
    { syncTick, syncCells }: FieldStart,
    cells: number,
  ): CellGains | null {
    return gainsOfWindow(
      { ...this.times.of(reading), syncTick, syncCells, cellTicks: this.cellTicks(reading) },
      cells,
      RUNS[this.encoding.id],
    );
  }

  /** The check passes, and no more places are doubtful than it can vouch for. */
  private believable(soft: SoftField, { most }: CellGains): boolean {
    if (!soft.ok || !this.markFits(soft)) return false;
    const { check } = this.encoding;
    const { margin: least, share } = DOUBTFUL[check];
    const doubtful = soft.doubts.filter(
      ({ margin }) => margin < Math.max(least, share * most),
    ).length;
    return doubtful <= (check === 'strong' ? MAX_DOUBTS : 0);
  }

  private markFits({ mark }: SoftField): boolean {
    return this.encoding.check === 'weak' || isDataMark(mark);
  }

  private byTrial(
    placed: PlacedSighting,
    soft: SoftField,
    gains: CellGains,
    size: number,
  ): PlacedSighting[] {
    if (this.encoding.check === 'weak' || !this.markFits(soft)) return [];
    const open = soft.doubts.filter(
      ({ margin }) => margin < Math.max(TRIAL.margin, TRIAL.share * gains.most),
    );
    if (open.length === 0 || open.length > TRIAL_PLACES) return [];
    for (const places of trials(open)) {
      const tried = this.encoding.readField(gains, size, places);
      if (tried.ok && this.markFits(tried)) return [sightingOf(placed, tried, 'trial')];
    }
    return [];
  }
}
