/** English: what every other language is held against. */
import { pages } from './en/pages';
import { told } from './en/told';

export const en = { tag: 'en', pages, told };
