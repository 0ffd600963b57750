/**
 * Which of the likelier other ways make a field's check right: sets of detours that do not touch
 * one another, by their cost, whose syndromes add up to the one that fails (an ordered list against
 * a cyclic code of 16 bits, ECMA-78 and its kin).
 */
import type { Detour } from './field-trellis';

const POLYNOMIAL = 0x1021;

interface CheckLed {
  flips: number[];
  cost: number;
  /** By how much the next set that makes the check right costs more. */
  margin: number;
  /** Sets of detours that cost no more: each passes the check by chance once in 65,536. */
  candidates: number;
}

const IN_TRIPLES = 220;
const IN_FOURS = 60;
const BIN = 0.25;
const BINS = 100;

/** What each bit of a field of `bits` bits, its check among them, leaves in the register. */
export function syndromes(bits: number): Uint16Array {
  const table = new Uint16Array(bits);
  let register = POLYNOMIAL;
  for (let bit = bits - 1; bit >= 0; bit--) {
    table[bit] = register;
    register =
      register & 0x8000 ? ((register << 1) ^ POLYNOMIAL) & 0xffff : (register << 1) & 0xffff;
  }
  return table;
}

interface Weighed extends Detour {
  syndrome: number;
}

/** The cheapest sets that leave nothing in the register, cheapest first, two of them at most. */
class Cheapest {
  readonly sets: { cost: number; flips: number[] }[] = [];

  /** The most that a set may cost to be of interest. */
  get limit(): number {
    return this.sets[1]?.cost ?? Infinity;
  }

  offer(events: readonly Weighed[]): void {
    const cost = events.reduce((sum, each) => sum + each.cost, 0);
    if (cost >= this.limit || !areApart(events)) return;
    const flips = events.flatMap((each) => each.flips).sort((a, b) => a - b);
    if (this.sets.some((set) => set.flips.join() === flips.join())) return;
    this.sets.push({ cost, flips });
    this.sets.sort((a, b) => a.cost - b.cost);
    this.sets.length = Math.min(2, this.sets.length);
  }
}

function areApart(events: readonly Detour[]): boolean {
  for (let i = 0; i < events.length; i++)
    for (let j = 0; j < i; j++)
      if (events[i]!.from < events[j]!.to && events[j]!.from < events[i]!.to) return false;
  return true;
}

/** The cheapest set that makes a failing check right; null where none of the list does. */
export function checkLed(
  detours: readonly Detour[],
  bits: number,
  failing: number,
): CheckLed | null {
  const table = syndromes(bits);
  const events: Weighed[] = detours.map((each) => ({
    ...each,
    syndrome: each.flips.reduce((sum, bit) => sum ^ table[bit]!, 0),
  }));
  const found = new Cheapest();
  const bySyndrome = new Map<number, Weighed[]>();
  for (const event of events) {
    const same = bySyndrome.get(event.syndrome);
    if (same) same.push(event);
    else bySyndrome.set(event.syndrome, [event]);
  }
  const closing = (wanted: number): readonly Weighed[] => bySyndrome.get(wanted) ?? [];
  for (const one of closing(failing)) found.offer([one]);
  for (const one of events)
    for (const other of closing(failing ^ one.syndrome))
      if (other !== one) found.offer([one, other]);
  offerTriples(events.slice(0, IN_TRIPLES), closing, failing, found);
  offerFours(events.slice(0, IN_FOURS), failing, found);
  const [best, next] = found.sets;
  if (!best) return null;
  return {
    flips: best.flips,
    cost: best.cost,
    margin: (next?.cost ?? best.cost + 22) - best.cost,
    candidates: countUpTo(events, best.cost),
  };
}

function offerTriples(
  events: readonly Weighed[],
  closing: (wanted: number) => readonly Weighed[],
  failing: number,
  found: Cheapest,
): void {
  for (const [i, one] of events.entries())
    for (const two of events.slice(0, i)) {
      if (one.cost + two.cost >= found.limit) continue;
      for (const three of closing(failing ^ one.syndrome ^ two.syndrome))
        if (three !== one && three !== two) found.offer([one, two, three]);
    }
}

function offerFours(events: readonly Weighed[], failing: number, found: Cheapest): void {
  const pairs = new Map<number, [Weighed, Weighed][]>();
  for (const [i, one] of events.entries())
    for (const two of events.slice(0, i)) {
      const syndrome = one.syndrome ^ two.syndrome;
      for (const other of pairs.get(failing ^ syndrome) ?? [])
        if (!other.includes(one) && !other.includes(two)) found.offer([one, two, ...other]);
      const same = pairs.get(syndrome);
      if (same) same.push([one, two]);
      else pairs.set(syndrome, [[one, two]]);
    }
}

/** How many sets of the events cost no more than `cost`, by their generating polynomial. */
export function countUpTo(events: readonly Pick<Detour, 'cost'>[], cost: number): number {
  const most = Math.min(BINS, Math.floor(cost / BIN));
  const counts = new Float64Array(most + 1);
  counts[0] = 1;
  for (const { cost: own } of events) {
    const bin = Math.max(0, Math.floor(own / BIN));
    for (let at = most; at >= bin; at--) counts[at]! += counts[at - bin]!;
  }
  return counts.reduce((sum, each) => sum + each, 0);
}
