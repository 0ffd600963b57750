/** A paper of the house: what stands on it, apart from how it is set as a page or as PDF. */
export interface Sheet {
  /** Above the head, small: what kind of paper it is, its number. */
  over: string;
  head: string;
  blocks: SheetBlock[];
}

/** `good` and `bad`: how something came out. */
type Tone = 'plain' | 'pale' | 'good' | 'bad';

export type SheetBlock =
  | { kind: 'text'; text: string; tone: Tone }
  | { kind: 'heading'; text: string }
  | { kind: 'facts'; facts: readonly (readonly [label: string, text: string])[] }
  | { kind: 'table'; columns: readonly SheetColumn[]; rows: readonly (readonly string[])[] }
  /** Lines to be signed, each with what is signed under it. */
  | { kind: 'signatures'; under: readonly string[] };

export interface SheetColumn {
  name: string;
  /** Its part of the width, beside those of the others. */
  share: number;
}
