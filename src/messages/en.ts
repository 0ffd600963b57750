/** English: what every other language is held against. */
import { pages } from './en/pages';

export const en = { pages };
