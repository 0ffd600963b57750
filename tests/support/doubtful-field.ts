/**
 * Fields in doubt as the account of belief takes them: places that may be otherwise, each by a cost,
 * and what was written drawn from exactly that. What is claimed of them can be held against it.
 */
import type { Random } from '@/core/bits/random';
import { checkLed, syndromes } from '@/core/reading/together/fields/check-led';
import type { Detour } from '@/core/reading/together/fields/field-trellis';

const BITS = 8 * 515;
/** Cells that a detour and what is around it take: none of these touches another. */
const APART = 24;
const MOST_DETOURS = 120;
/** Costs are about so large at most: a field read from several turns; a field near its end. */
const COSTS = [0.7, 6] as const;
/** Trellis lists end here. */
const FAR = 22;
const BURST = 3;

interface DoubtfulField {
  detours: Detour[];
  bits: number;
  /** What the check leaves of the likeliest field. */
  failing: number;
  /** Bits that are not as in the likeliest field. */
  written: number[];
}

const table = syndromes(BITS);

export function doubtfulField(random: Random): DoubtfulField {
  const typical = COSTS[0] + (COSTS[1] - COSTS[0]) * random.next();
  const count = 1 + random.below(MOST_DETOURS);
  const detours: Detour[] = [];
  const written: number[] = [];
  for (let i = 0; i < count; i++) {
    const cost = typical * (0.2 - 2 * Math.log(1 - random.next()));
    const first = APART * i + random.below(APART - BURST);
    const flips = [0, 1, 2].slice(0, 1 + random.below(BURST)).map((bit) => first + bit);
    const isSo = random.next() < 1 / (1 + Math.exp(cost));
    if (isSo) written.push(...flips);
    if (cost < FAR) detours.push({ cost, from: 2 * first, to: 2 * first + 8, flips });
  }
  detours.sort((a, b) => a.cost - b.cost);
  const failing = written.reduce((sum, bit) => sum ^ table[bit]!, 0);
  return { detours, bits: BITS, failing, written: written.sort((a, b) => a - b) };
}

/** The chance that is told of the field that is made of it, and whether it was the wrong one. */
function judged(field: DoubtfulField): { told: number; isWrong: boolean } | null {
  const led = checkLed(field.detours, field.bits, field.failing);
  return led && { told: led.wrong, isWrong: led.flips.join() !== field.written.join() };
}

interface Decade {
  /** Fields of which the chance told is from 10ⁿ to below 10ⁿ⁺¹. */
  power: number;
  fields: number;
  told: number;
  found: number;
}

/** What was told and what was found, by the decades of what was told. */
export function calibration(random: Random, fields: number, least = -8): Decade[] {
  const decades = Array.from({ length: -least }, (_, i): Decade => ({
    power: least + i,
    fields: 0,
    told: 0,
    found: 0,
  }));
  for (let i = 0; i < fields; i++) {
    const one = judged(doubtfulField(random));
    if (!one) continue;
    const power = Math.min(-1, Math.max(least, Math.floor(Math.log10(one.told))));
    const decade = decades[power - least]!;
    decade.fields++;
    decade.told += one.told;
    decade.found += Number(one.isWrong);
  }
  return decades;
}
