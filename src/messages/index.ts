/**
 * What a person reads, by code, in the language of this installation.
 *
 * English is `en.ts`, and what the other languages are held against. Another language is a file of
 * the same shape that is loaded before anything else: it leaves its messages in `globalThis`, on
 * the server as in the page.
 */
import { en } from './en';

export type Messages = typeof en;

declare global {
  var frailSpindleMessages: Messages | undefined;
}

const messages = globalThis.frailSpindleMessages ?? en;

/** The texts of the pages. */
export const say = messages.pages;
