/** What a person asks for in words: each word by itself, and as a pattern of LIKE. */
import { sanitizeText } from './sanitize-text';

/** In small letters. */
export const wordsOf = (asked: string): string[] =>
  sanitizeText(asked).toLowerCase().split(/\s+/).filter(Boolean);

/** Whatever the word stands in; its own signs mean nothing. */
export const like = (word: string): string => `%${word.replace(/[\\%_]/g, '\\$&')}%`;
