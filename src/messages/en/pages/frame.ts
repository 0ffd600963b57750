/** What the pages of frame say. */
import { inMib } from '../words';

export const frame = {
  nothingAnswers:
    'The application does not answer. What is shown may be old; it is asked again by itself.',
  theStoreIsAway:
    'The database does not answer. What is shown may be old; nothing that was kept is lost, and it ' +
    'is asked again by itself.',
  thisPageWaits: 'This page waits for the database',
  itComesByItself:
    'It comes by itself as soon as the database answers. Nothing that was kept is lost.',
  theDiskFills: ({ free, reserve }: { free: number; reserve: number }) =>
    `The disk that holds everything fills up: ${inMib(free)} are left. Below ${inMib(reserve)} ` +
    'nothing more is read or taken in.',
  theDiskIsFull: ({ free }: { free: number }) =>
    `The disk that holds everything is full but for ${inMib(free)}: nothing more is read or taken ` +
    'in. Free some of it.',
  jumpTo: 'Jump to',
  aCodeATitle: 'A code, a title, a station …',
  nothingByThatName: 'Nothing by that name.',
  layouts: 'Layouts',
  cardsForStandIn: 'Cards for stand-in drives',
  bySerialLine: 'By serial line',
  signatures: 'Signatures',
  whatIsAlike: 'What is alike',
  toComplete: 'To complete',
  station: ({ id }: { id: number }) => `Station ${id}`,
  station2: ({ id, name }: { id: number; name: string }) => `Station ${id}: ${name}`,
  whoIsAtWork: 'Who is at work?',
  everythingInTheLedger:
    'Everything in the ledger has a name. No password: this application answers on this computer only.',
  anotherName: 'Another name',
  atWorkNow: 'At work now',
  arrivals: 'Arrivals',
  bench: 'Bench',
  holdings: 'Holdings',
  assembly: 'Assembly',
  writeBack: 'Write back',
  ledger: 'Ledger',
  places: 'Places',
  frailSpindle: 'Frail Spindle',
  light: 'Light',
  dark: 'Dark',
  d: '⇧D',
  sound: 'Sound',
  silent: 'Silent',
  s: '⇧S',
  ctrlK: 'Ctrl K',
};
