/** What the ledger and the page on checks of what is kept say. */
import { grouped } from '@/core/text/grouped';
import { counted } from '../words';

export const ledger = {
  newestFirst: 'Newest first',
  ofTheLastEntries: ({ shown, rows }: { shown: number; rows: number }) =>
    `${shown} of the last ${rows} entries`,
  theLastEntries: ({ rows }: { rows: number }) => `The last ${rows} entries`,
  filter: 'Filter',
  filterByCodeName: 'Filter by code, name or word',
  allOfItAs: 'All of it as CSV',
  asJson: 'as JSON',
  checksOfWhatIsKept: 'Checks of what is kept',
  noEntryAnswersTo: 'No entry answers to that.',
  when: 'When',
  who: 'Who',
  medium: 'Medium',
  station: 'Station',
  what: 'What',
};

export const fixity = {
  whatIsKept: 'What is kept',
  secondStore: 'Second store',
  noSecondStore:
    'There is none: all that is kept lies in one database. Name a folder on another disk in SPINDLE_SECOND_STORE ' +
    'and start again; everything is written there as plain files, and read back.',
  liesIn: ({ folder }: { folder: string }) => `It lies in ${folder} (OCFL 1.1).`,
  isNotReached: ({ folder }: { folder: string }) =>
    `${folder} can’t be reached: nothing is written there until its disk is back.`,
  isOfAnother: ({ folder }: { folder: string }) =>
    `${folder} holds what another house keeps: nothing is written there. Name another folder.`,
  mediaInIt: 'Media in it',
  ofAll: ({ objects, media }: { objects: number; media: number }) => `${objects} of ${media}`,
  behind: 'Changed since',
  writtenLast: 'Written last',
  readBack: 'Longest not read back',
  allSound: ({ blobs }: { blobs: number }) => `All ${counted(blobs, 'stored object')} are sound`,
  nothingKept: 'Nothing is kept yet',
  someDamaged: ({ damaged, blobs }: { damaged: number; blobs: number }) =>
    `${grouped(damaged)} of ${counted(blobs, 'stored object')} ${damaged === 1 ? 'is' : 'are'} damaged`,
  checkAll: 'Check everything now',
  asking: 'Asking …',
  held: ({ bytes }: { bytes: number }) => `${grouped(bytes)} bytes`,
  every: ({ days }: { days: number }) =>
    'Images, captures, sidecars, papers and ZIPs: each is read whole and held against its SHA-256 ' +
    `at least once in ${counted(days, 'day')}, in the workers' idle time, and piece by piece ` +
    'whenever it is used.',
  size: 'Held',
  oldest: 'Checked longest ago',
  never: 'Not checked yet',
  due: 'Asked for, still to come',
  none: 'none',
  nothingDamaged: 'Nothing is damaged. What is found damaged stands here, and is never handed out.',
  what: 'What',
  from: 'Damaged from byte',
  since: 'Found',
  files: 'Files on it',
  ledger: 'Ledger',
  ledgerNotYet: 'not looked at yet',
  ledgerIsWhole: ({ entries }: { entries: number }) =>
    `${counted(entries, 'entry', 'entries')} whole`,
  ledgerIsBroken: ({ from, through }: { from: number; through: number }) =>
    `changed in ${grouped(from)} to ${grouped(through)}`,
  whatTheSealsAre: ({ digest, at }: { digest: string; at: string | null }) =>
    `Entries of the ledger are sealed one stretch after the other, each seal over the one before; ` +
    `all of them are looked at once a day, ${at ? `last at ${at}` : 'and now'}. ` +
    `The last seal: ${digest}. Who keeps it elsewhere can ` +
    'show later that nothing before it was changed.',
  whatToDo:
    'Bring the database back from a backup, then check again; or read the medium again: a new ' +
    'fair copy takes the place of the damaged one.',
};
