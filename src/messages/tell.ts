/** Puts what is kept as a code with parameters into words. */
import type { Problem } from '@/core/problems';
import type { Said, SaidValue, Words } from '@/core/said';
import { told } from '.';

type Sentence = string | ((parameters: Record<string, SaidValue>) => string);

function inWords(value: SaidValue): SaidValue {
  if (Array.isArray(value))
    return value.map((each: Words | number) => (typeof each === 'number' ? each : tell(each)));
  return typeof value === 'object' && value !== null ? tell(value as Said) : value;
}

/** The sentence of a code, or null where this version has none: a row of a later version. */
function sentenceOf(code: string): Sentence | null {
  const dot = code.indexOf('.');
  const [area, key] = [code.slice(0, dot), code.slice(dot + 1)];
  if (!Object.hasOwn(told, area)) return null;
  const sentences: Record<string, unknown> = told[area as keyof typeof told];
  return Object.hasOwn(sentences, key) ? (sentences[key] as Sentence) : null;
}

/** What was kept before there were codes, and names, stay as they are. */
export function tell(said: Words): string {
  if (typeof said === 'string') return said;
  const parameters = said.with ?? {};
  if (said.code === 'asWritten') return String(parameters.text ?? '');
  const sentence = sentenceOf(said.code);
  if (sentence === null) return said.code;
  if (typeof sentence === 'string') return sentence;
  try {
    const words = Object.entries(parameters).map(([name, value]) => [name, inWords(value)]);
    return sentence(Object.fromEntries(words));
  } catch {
    // A row of a version whose sentence asked for other things: no page is lost for one line.
    return said.code;
  }
}

export const tellIfAny = (said: Words | null): string | null => said && tell(said);

/** A problem as it leaves the house: with its sentence. */
export const toldProblem = ({ kind, said, offset }: Problem) => ({
  kind,
  message: tell(said),
  offset,
});

/** A row of work as a page sees it: with what it is at in words. */
export const nowTold = <T extends { now: Words | null }>(
  row: T,
): Omit<T, 'now'> & { now: string } => ({ ...row, now: tell(row.now ?? '') });
