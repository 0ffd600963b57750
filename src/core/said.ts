/**
 * What there is to say, as a code with parameters: made where it is found out, kept as it is, and
 * put into words by `src/messages` where a person reads it. Nothing branches on words.
 */

export type SaidValue =
  string | number | boolean | null | undefined | Said | readonly (Said | string | number)[];

export interface Said {
  code: string;
  with?: Readonly<Record<string, SaidValue>>;
}

/**
 * The codes there are, each with the parameters of its sentence; `src/messages` declares them, so
 * that the compiler refuses a code without a sentence and a sentence without its parameters.
 *
 * @public
 */
// eslint-disable-next-line @typescript-eslint/no-empty-object-type -- filled in by src/messages
export interface SaidCodes {}

type ParametersOf<C extends keyof SaidCodes> = SaidCodes[C] extends undefined
  ? []
  : [parameters: SaidCodes[C]];

export function said<C extends keyof SaidCodes>(code: C, ...[parameters]: ParametersOf<C>): Said {
  return parameters === undefined ? { code } : { code, with: parameters as Said['with'] };
}

/** What is said, or words that stay as they came: a name, or what was kept before there were codes. */
export type Words = Said | string;

export const isSaid = (value: unknown): value is Said =>
  typeof value === 'object' && value !== null && 'code' in value && typeof value.code === 'string';

/** Words that were given to us: they stay as they are. */
export const asWritten = (text: string): Said => ({ code: 'asWritten', with: { text } });

/** The same without what is said twice. */
export function eachOnce(list: readonly Said[]): Said[] {
  const known = new Set<string>();
  return list.filter((each) => {
    const text = JSON.stringify(each);
    if (known.has(text)) return false;
    known.add(text);
    return true;
  });
}
