/** What the pages of ledger say. */
export const ledger = {
  newestFirst: 'Newest first',
  ofTheLastEntries: ({ shown, rows }: { shown: number; rows: number }) =>
    `${shown} of the last ${rows} entries`,
  theLastEntries: ({ rows }: { rows: number }) => `The last ${rows} entries`,
  filter: 'Filter',
  filterByCodeName: 'Filter by code, name or word',
  allOfItAs: 'All of it as CSV',
  asJson: 'as JSON',
  noEntryAnswersTo: 'No entry answers to that.',
  when: 'When',
  who: 'Who',
  medium: 'Medium',
  station: 'Station',
  what: 'What',
};
