/** Small words that many sentences are made with. */
import { grouped } from '@/core/text/grouped';

const ORDINALS = [
  '',
  'first',
  'second',
  'third',
  'fourth',
  'fifth',
  'sixth',
  'seventh',
  'eighth',
  'ninth',
];

/** `third`; beyond the ninth, `10th`. */
export const ordinal = (n: number): string => ORDINALS[n] ?? `${n}th`;

/** `1 097 blocks`, `1 block`. */
export const counted = (n: number, one: string, many = `${one}s`): string =>
  `${grouped(n)} ${n === 1 ? one : many}`;

/** `1 097 MiB`, rounded up. */
export const inMib = (bytes: number): string => `${grouped(Math.ceil(bytes / 2 ** 20))} MiB`;

/** The same as the beginning of a sentence. */
export const capital = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);

const RAISED = [...'⁰¹²³⁴⁵⁶⁷⁸⁹'];

/** `⁷`, as a power of ten has it. */
export const raised = (power: number): string =>
  [...String(power)].map((digit) => RAISED[Number(digit)] ?? digit).join('');
