/**
 * The plan of reading a block device: what to ask for next, how, and why; and when to stop. It sees
 * only the extent map, so that a reading goes on after any interruption. Four parts, in turn:
 * 1. a sweep over everything in large requests, which goes on behind a bad block and, where the
 *   next ones are bad as well, passes over a stretch that grows;
 * 2. what was passed over: on from what was read, the far edge by halves, the largest first;
 * 3. blocks that failed, again and again, each round otherwise: the other way round, slower,
 *   fewer at once;
 * 4. the end: everything read, or what is left gave nothing more.
 */
import { isSound } from '../reading/grades';
import { PASSED_OVER, type Extent, type ExtentMap } from './extent-map';
import { said, type Said } from '@/core/said';

export interface BlockRange {
  from: number;
  /** The first block behind it. */
  to: number;
}

export interface BlockPolicy {
  /** Null until a person, or the device's own tables, said how far. */
  range: BlockRange | null;
  /** Blocks of the largest request. */
  request: number;
  /** Most tries of one block. */
  tries: number;
  /** Rounds without any gain after which a large bad area is left as it is. */
  patience: number;
  /** For fragile media: at the lowest speed, and each bad block once more at most. */
  gentle: boolean;
}

export const DEFAULT_BLOCK_POLICY = Object.freeze({ tries: 12, patience: 3, gentle: false });

/**
 * A plan for a settled range on a device with these speeds, fastest first; none where it can't be
 * set.
 */
export interface PlannedBlocks extends BlockPolicy {
  range: BlockRange;
  speeds: readonly number[];
}

export type BlockStep =
  /**
   * `pass` counts from 1: the sweep and what it passed over are the first. `speed` is one of the
   * device's, or null.
   */
  | { kind: 'read'; from: number; count: number; pass: number; speed: number | null; why: Said }
  | { kind: 'pass-over'; from: number; count: number; why: Said }
  | { kind: 'done'; why: Said };

export type ReadBlocks = Extract<BlockStep, { kind: 'read' }>;

/** Fewest blocks in a row that make a stretch between two bad blocks a readable one. */
const READABLE_RUN = 16;

/**
 * Blocks passed over at the second bad block in a row; four times that at each further one, up to a
 * share of the device.
 */
const FIRST_PASS_OVER = 16;

const LARGEST_PASS_OVER = 1 / 64;

/** Stretches of up to this many blocks are read from end to end, larger ones by halves. */
const SMALL_STRETCH = 32;

/** Bad areas of up to this many blocks get every try. */
const SMALL_AREA = 16;

/** More hard places in a row than this change nothing. */
const MAX_STOPS = 12;

/** Tries of a block of a fragile medium. */
const GENTLE_TRIES = 2;

/**
 * How far from a bad area a block that came late tells that reading there still brings something.
 */
const NEARBY = 64;

/** How each round differs: its order, which of the speeds, and how many blocks at once. */
const ROUNDS: readonly { backward: boolean; slower: 0 | 1 | 2; atOnce: number; how: Said }[] = [
  { backward: true, slower: 0, atOnce: 64, how: said('block.fromTheOtherEnd') },
  { backward: false, slower: 1, atOnce: 16, how: said('block.slower') },
  { backward: true, slower: 2, atOnce: 4, how: said('block.asSlowlyAsIt') },
  { backward: false, slower: 0, atOnce: 1, how: said('block.oneBlockAtA') },
  { backward: true, slower: 1, atOnce: 1, how: said('block.slowerOneAtA') },
  { backward: false, slower: 2, atOnce: 1, how: said('block.asSlowlyAsItGoes') },
];

interface Run {
  from: number;
  to: number;
}

const isBad = ({ grade }: Extent) => grade === 'lost' || grade === 'doubtful';

const isPassedOver = ({ grade, group }: Extent) => grade === 'unread' && group > 0;

export class SalvagePlan {
  /**
   * Passed-over stretches of the loop at hand, largest last; made anew from the map when it is used
   * up.
   */
  private stretches: Run[] = [];
  private nothingPassedOver = false;
  /** Bad runs of the round at hand, all with as many tries. */
  private round: { tries: number; runs: Run[] } = { tries: 0, runs: [] };
  /** Everything before it in the range is read, passed over or bad: where the sweep looks on. */
  private swept: number;
  private readonly to: number;

  constructor(
    private readonly map: ExtentMap,
    private readonly policy: PlannedBlocks,
  ) {
    this.swept = policy.range.from;
    this.to = Math.min(policy.range.to, map.blocks);
  }

  /**
   * What to do next. The outcome is to be folded into the map with `applyOutcome` before the next
   * call.
   */
  next(): BlockStep {
    return this.sweep() ?? this.passedOver() ?? this.again() ?? this.end();
  }

  /** The map's extents within a run, cut to it. */
  private within(from: number, to: number): Extent[] {
    const list = this.map.extents();
    const found: Extent[] = [];
    for (let i = this.map.indexAt(from); i < list.length && list[i]!.from < to; i++)
      found.push({
        ...list[i]!,
        from: Math.max(from, list[i]!.from),
        to: Math.min(to, list[i]!.to),
      });
    return found;
  }

  private speed(slower: 0 | 1 | 2): number | null {
    const { speeds, gentle } = this.policy;
    if (speeds.length === 0) return null;
    const last = speeds.length - 1;
    return speeds[gentle || slower === 2 ? last : slower === 1 ? Math.floor((last + 1) / 2) : 0]!;
  }

  private sweep(): BlockStep | null {
    const list = this.map.extents();
    let i = this.map.indexAt(this.swept);
    while (
      i < list.length &&
      list[i]!.from < this.to &&
      !(list[i]!.grade === 'unread' && list[i]!.group === 0)
    )
      i++;
    const next = list[i];
    if (!next || next.from >= this.to) {
      this.swept = this.to;
      return null;
    }
    const from = Math.max(next.from, this.policy.range.from);
    this.swept = from;
    const left = Math.min(next.to, this.to) - from;
    const hard = this.hardStopsBefore(i);
    // What comes behind a passed-over stretch is looked at.
    if (hard >= 2 && !isPassedOver(list[i - 1]!)) {
      const most = Math.max(
        FIRST_PASS_OVER,
        Math.floor((this.to - this.policy.range.from) * LARGEST_PASS_OVER),
      );
      const count = Math.min(left, most, FIRST_PASS_OVER * 4 ** (hard - 2));
      return {
        kind: 'pass-over',
        from,
        count,
        why: said('block.passingOverFromWhat', { count, from }),
      };
    }
    return {
      kind: 'read',
      from,
      count: Math.min(this.policy.request, left),
      pass: 1,
      speed: this.speed(0),
      why: said('block.readingFromBlock', { from }),
    };
  }

  /** Bad or slow places right before an extent, with nothing that reads well between them. */
  private hardStopsBefore(index: number): number {
    const list = this.map.extents();
    let stops = 0;
    for (
      let i = index - 1;
      i >= 0 && list[i]!.to > this.policy.range.from && stops < MAX_STOPS;
      i--
    ) {
      const each = list[i]!;
      const sound = isSound(each.grade);
      if (isBad(each)) stops += Math.min(each.to - each.from, 2);
      else if (sound && each.pace > 0) stops += 2;
      else if (sound ? each.to - each.from >= READABLE_RUN : each.group === 0) break;
    }
    return stops;
  }

  /** The longest stretch that was passed over, or null where there is none left. */
  private nextStretch() {
    if (this.nothingPassedOver) return null;
    if (this.stretches.length === 0)
      this.stretches = this.within(this.policy.range.from, this.to)
        .filter(isPassedOver)
        .sort((a, b) => a.to - a.from - (b.to - b.from) || b.from - a.from);
    const stretch = this.stretches.pop();
    this.nothingPassedOver = !stretch;
    return stretch ?? null;
  }

  private passedOver(): BlockStep | null {
    const { request, range } = this.policy;
    const stretch = this.nextStretch();
    if (!stretch) return null;
    const i = this.map.indexAt(stretch.from);
    const { group } = this.map.extents()[i]!;
    const { from, to } = stretch;
    const before = from > range.from ? this.map.at(from - 1) : null;
    const goesOn = before !== null && isSound(before.grade) && before.pace === 0;
    // A request that failed without saying where is asked for by halves, from its first block on.
    const start =
      goesOn || to - from <= SMALL_STRETCH || group < PASSED_OVER
        ? from
        : from + Math.floor((to - from) / 2);
    const count = Math.min(to - start, request, Math.max(1, Math.floor(group / 2)));
    return {
      kind: 'read',
      from: start,
      count,
      pass: 1,
      speed: this.speed(0),
      why: said('block.backToWhatWas', { count: to - from, from }),
    };
  }

  private again(): BlockStep | null {
    for (;;) {
      const { tries, runs } = this.round;
      const { backward, slower, atOnce, how } = ROUNDS[Math.max(0, tries - 1) % ROUNDS.length]!;
      for (let run = runs[runs.length - 1]; run; runs.pop(), run = runs[runs.length - 1]) {
        const due = this.within(run.from, run.to).filter(
          (each) => isBad(each) && each.tries === tries,
        );
        if (due.length === 0) continue;
        const { from: first, to: last } = joined(due)[backward ? 'last' : 'first'];
        const count = Math.min(last - first, atOnce, this.policy.request);
        const from = backward ? last - count : first;
        return {
          kind: 'read',
          from,
          count,
          pass: tries + 1,
          speed: this.speed(slower),
          why: said('block.blockForTheTime', {
            from,
            more: count - 1,
            tries: tries + 1,
            how,
          }),
        };
      }
      const open = this.openRuns();
      if (open.length === 0) return null;
      const fewest = Math.min(...open.map((each) => each.tries));
      const due = open
        .filter((each) => each.tries === fewest)
        .map(({ from, to }) => ({ from, to }));
      // Taken from the end.
      this.round = {
        tries: fewest,
        runs: ROUNDS[(fewest - 1) % ROUNDS.length]!.backward ? due : due.reverse(),
      };
    }
  }

  /** Bad blocks that are to be tried again. */
  private openRuns(): Extent[] {
    const { tries: most, patience, range, gentle } = this.policy;
    const open: Extent[] = [];
    for (const area of badAreas(this.within(range.from, this.to))) {
      const blocks = area.reduce((sum, { from, to }) => sum + to - from, 0);
      const tried = Math.max(...area.map(({ tries }) => tries));
      const spent =
        blocks > SMALL_AREA &&
        tried - this.lastGain(area[0]!.from, area[area.length - 1]!.to) >= patience;
      // The round at hand is ended all the same, so that every block of the area has had as many
      // tries.
      const limit = Math.min(spent ? tried : most, gentle ? GENTLE_TRIES : most);
      open.push(...area.filter((each) => each.tries < limit));
    }
    return open;
  }

  /** The latest try that brought a block in or near an area. */
  private lastGain(from: number, to: number): number {
    return Math.max(
      1,
      ...this.within(Math.max(0, from - NEARBY), to + NEARBY)
        .filter(({ grade }) => isSound(grade))
        .map(({ tries }) => tries),
    );
  }

  private end(): BlockStep {
    const count = this.within(this.policy.range.from, this.to)
      .filter(isBad)
      .reduce((sum, { from, to }) => sum + to - from, 0);
    return {
      kind: 'done',
      why: count === 0 ? said('block.everyBlockWasRead') : said('block.couldNotBeRead', { count }),
    };
  }
}

/** Bad extents that lie together, with no readable stretch between them. */
function badAreas(extents: readonly Extent[]): Extent[][] {
  const areas: Extent[][] = [];
  for (const each of extents) {
    if (!isBad(each)) continue;
    const area = areas[areas.length - 1];
    if (area && each.from - area[area.length - 1]!.to < READABLE_RUN) area.push(each);
    else areas.push([each]);
  }
  return areas;
}

/** The first and the last run of extents that touch. */
function joined(extents: readonly Extent[]): { first: Run; last: Run } {
  const runs: Run[] = [];
  for (const { from, to } of extents) {
    const before = runs[runs.length - 1];
    if (before?.to === from) before.to = to;
    else runs.push({ from, to });
  }
  return { first: runs[0]!, last: runs[runs.length - 1]! };
}
