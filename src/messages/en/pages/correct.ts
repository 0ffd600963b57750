/** What the pages say where registered facts are corrected. */
import { elements } from '../told/names/elements';
import { factNames } from '../told/features/media';

const plural = (count: number) => (count === 1 ? 'medium' : 'media');

export const correct = {
  facts: { ...factNames, ...elements, acquisition: 'acquired' },
  title: 'Correct many media',
  arrivals: 'Arrivals',
  asTable: 'These as a table, CSV',
  bringTableBack: 'Bring a table back',
  wordsAsked: 'Whose facts are wrong? A lender, a lot, a set, a code …   /',
  noMediumAnswers: 'No medium answers to that.',
  allOfThem: 'All of them',
  firstOfAll: ({ first, total }: { first: string; total: string }) =>
    `The first ${first} of ${total}: ask for less to reach the others.`,
  whichFact: 'Of all that are chosen, the',
  isInTruth: 'is in truth',
  showWhatChanges: ({ count }: { count: number }) => `Show what changes of ${count}`,
  whatWouldChange: 'What would change',
  mediaWouldChange: ({ count, of }: { count: number; of: number }) =>
    `${count} of ${of} ${plural(of)} would change`,
  standAgainst: ({ count }: { count: number }) =>
    `${count} can’t be so: nothing is corrected until that is mended`,
  correctThem: ({ count }: { count: number }) => `Correct ${count} ${plural(count)}`,
  andMore: ({ count }: { count: string }) => `and ${count} more`,
  nothing: 'nothing',
  yes: 'yes',
  no: 'no',
  wereCorrected: ({ count }: { count: number }) =>
    `${count} ${plural(count)} corrected. What they were stands in the ledger.`,
  isNoTable:
    'That is no table with a column called code: nothing was taken of it. Save one here first, and ' +
    'change that.',
  columnsLeft: ({ columns }: { columns: string }) =>
    `Left alone, for no fact is called so: ${columns}.`,
  tableIsEmpty: 'The table has no rows.',
  cellsAreOdd: ({ count }: { count: number }) =>
    `${count} ${count === 1 ? 'cell' : 'cells'} can’t be understood: nothing was taken of the table.`,
  oddCell: ({ row, column, text }: { row: number; column: string; text: string }) =>
    `Row ${row}, ${column}: ${text === '' ? 'empty' : `“${text}”`}`,
  correctIt: 'Correct what is registered',
  aboutOne: 'What it was stays in the ledger. Only what you change is changed.',
  keepIt: 'Correct it',
  placeInSet: 'Place in the set',
  recordedSide: 'Recorded side',
  isWriteProtected: 'Write-protected',
  isTreatedFirst: 'To be treated first',
  isBlank: 'A blank of ours, which may be written',
  manyAtOnce: 'Correct many',
};
