/** What is said of media that came and went. */
import { counted } from '../../words';

const WENT: Record<string, string> = {
  arrived: 'came, brought by',
  'handed-back': 'handed back to',
  'sent-out': 'sent out to',
  'came-back': 'came back from',
};
const wentWords = (kind: string): string => WENT[kind] ?? kind;

interface Noted {
  id: number;
  kind: string;
  day: string;
  person: string;
  backBy: string;
}

interface IsOut {
  code: string;
  kind: string;
  day: string;
  person: string;
  receipt: number;
}

interface SomeOfThem {
  codes: string[];
  all: number;
}

const some = ({ codes, all }: SomeOfThem): string =>
  codes.join(', ') + (all > codes.length ? ` and ${all - codes.length} more` : '');

export const receipts = {
  noMedia: 'No medium is of that, or all of them are elsewhere: no receipt was made.',
  tooMany: ({ limit }: { limit: number }) =>
    `A receipt takes at most ${counted(limit, 'medium', 'media')}. Nothing was noted; make one for each part.`,
  tooManyToReport: ({ limit }: { limit: number }) =>
    `A report takes at most ${counted(limit, 'medium', 'media')}: make smaller lots of it.`,
  receipt: ({ id }: { id: number }) => `receipt ${id}`,
  noted: ({ id, kind, day, person, backBy }: Noted) =>
    `On ${day} ${wentWords(kind)} ${person}${backBy && `, to be back by ${backBy}`}: receipt ${id}.`,
  isOut: ({ code, kind, day, person, receipt }: IsOut) =>
    `${code} is not in the house: ${wentWords(kind)} ${person} on ${day} (receipt ${receipt}). ` +
    'If it is here, note on its docket that it came back.',
  areOut: (about: SomeOfThem) =>
    `Not in the house: ${some(about)}. Nothing was noted; what is here again is noted as come back first.`,
  areNotOut: (about: SomeOfThem) =>
    `In the house already: ${some(about)}. Nothing was noted; choose those that were out.`,
};
