/**
 * What a person reads, by code, in the language of this installation.
 *
 * English is `en.ts`, and what the other languages are held against. Another language is a file of
 * the same shape that is loaded before anything else: it leaves its messages in `globalThis`, on
 * the server as in the page.
 */
import { en } from './en';
import type { Said, Words } from '@/core/said';

/** @public What another language is held against. */
export type Messages = typeof en;

declare global {
  var frailSpindleMessages: Messages | undefined;
}

const messages = globalThis.frailSpindleMessages ?? en;

/** What the page is written in, as HTML names it. */
export const language = messages.tag;

/** The texts of the pages. */
export const say = messages.pages;

/** The sentences of what is kept as a code with parameters: `tell` makes use of them. */
export const told = messages.told;

type Told = Messages['told'];

type CodeOf<T> = {
  [Area in keyof T & string]: `${Area}.${keyof T[Area] & string}`;
}[keyof T & string];

/** What may stand for a parameter: what is to be put into words may be a code itself. */
type Parameters<P> = {
  [K in keyof P]: P[K] extends string[]
    ? readonly Words[]
    : string extends P[K]
      ? P[K] | Said
      : P[K];
};

type ParametersOf<Sentence> = Sentence extends (parameters: infer P) => string
  ? Parameters<P>
  : undefined;

type Codes = {
  [Code in CodeOf<Told>]: Code extends `${infer Area}.${infer Key}`
    ? Area extends keyof Told
      ? Key extends keyof Told[Area]
        ? ParametersOf<Told[Area][Key]>
        : never
      : never
    : never;
};

declare module '@/core/said' {
  // eslint-disable-next-line @typescript-eslint/no-empty-object-type -- what it extends is the point
  interface SaidCodes extends Codes {}
}
