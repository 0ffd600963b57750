/**
 * Which of the likelier ways make a field's check right: sets of detours that do not touch one
 * another, by their cost, whose syndromes add up to the one that fails (an ordered list against a
 * cyclic code of 16 bits, ECMA-78 and its kin); and how likely the cheapest is the wrong one.
 */
import type { Detour } from './field-trellis';

const POLYNOMIAL = 0x1021;

interface CheckLed {
  /** Bits that are the other way round than in the likeliest field; none where its check is right. */
  flips: number[];
  cost: number;
  /** Sets of detours that cost no more: each passes the check by chance once in 65,536. */
  candidates: number;
  /** Chance that the field was another one, by `chanceOfAnother`. */
  wrong: number;
}

/** Ways that a check of so many bits lets through by chance: one of these. */
const CHECKS = 1 << 16;

/** Of the cheapest detours so many are tried by ones and twos, by threes and by fours. */
export const IN_PAIRS = 700;
const IN_TRIPLES = 220;
const IN_FOURS = 60;
const BIN = 0.25;
const BINS = 100;
/** A set that costs more than the best by this is as good as none: e⁻²². */
const FAR = 22;

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

const NONE: ArrayLike<number> = [];

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

/**
 * The cheapest set that makes a check right, the empty one where it does not fail; null where none
 * of the list does. `detours` are the cheapest, in their order, of a field of `bits` bits, and
 * `further` the costs of all others.
 */
export function checkLed(
  detours: readonly Detour[],
  bits: number,
  failing: number,
  further: ArrayLike<number> = NONE,
): CheckLed | null {
  const table = syndromes(bits);
  const events: Weighed[] = detours.slice(0, IN_PAIRS).map((each) => ({
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
  if (failing === 0) found.offer([]);
  for (const one of closing(failing)) found.offer([one]);
  for (const one of events)
    for (const other of closing(failing ^ one.syndrome))
      if (other !== one) found.offer([one, other]);
  offerTriples(events.slice(0, IN_TRIPLES), closing, failing, found);
  offerFours(events.slice(0, IN_FOURS), failing, found);
  const [best, next] = found.sets;
  if (!best) return null;
  const { flips, cost } = best;
  return {
    flips,
    cost,
    candidates: countUpTo(events, cost),
    // Also by those that were not tried: what may be otherwise in thousands of places is in doubt.
    wrong: chanceOfAnother(detours, cost, Math.min(next?.cost ?? Infinity, cost + FAR), further),
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

/** Sets of so many detours were all held against the check, of so many of the cheapest. */
const EXAMINED = [IN_PAIRS, IN_PAIRS, IN_TRIPLES, IN_FOURS] as const;

/**
 * The chance that the field is another than the cheapest that makes its check right. By the times
 * alone a set of detours that costs c is likely as e⁻ᶜ, all of them together as Z = ∏ (1 + e⁻ᶜ).
 * Against e⁻ᶜ of the cheapest stand the next that makes the check right, and of all sets that were
 * not held against it one in 65,536: those that were, and cost less than the next, do not (Bayes).
 */
export function chanceOfAnother(
  detours: readonly Pick<Detour, 'cost'>[],
  cost: number,
  next: number,
  further: ArrayLike<number> = NONE,
): number {
  let all = detours.reduce((product, each) => product * (1 + Math.exp(-each.cost)), 1);
  for (let i = 0; i < further.length; i++) all *= 1 + Math.exp(-further[i]!);
  const unknown = Math.max(0, all - examinedUpTo(detours, next));
  const others = Math.exp(-next) + unknown / CHECKS;
  return others / (others + Math.exp(-cost));
}

/** e⁻ᶜ of all sets that were held against the check and cost less than `next`. */
function examinedUpTo(detours: readonly Pick<Detour, 'cost'>[], next: number): number {
  const bins = Math.floor(next / BIN);
  const bySize = [0, ...EXAMINED].map(() => new Float64Array(bins + 1));
  bySize[0]![0] = 1;
  for (const [i, { cost }] of detours.entries()) {
    const weight = Math.exp(-cost);
    const bin = Math.max(0, Math.ceil(cost / BIN));
    for (let size = EXAMINED.length; size > 0; size--) {
      if (i >= EXAMINED[size - 1]!) continue;
      const [own, less] = [bySize[size]!, bySize[size - 1]!];
      for (let at = bins; at >= bin; at--) own[at]! += less[at - bin]! * weight;
    }
  }
  return bySize.reduce((sum, own) => sum + own.reduce((part, each) => part + each, 0), 0);
}
