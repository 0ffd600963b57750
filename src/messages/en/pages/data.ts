/** What the pages of data say. */
export const data = {
  theApplicationDoesNot:
    'The application does not answer. What was entered here is kept; it tries again when it is back.',
  ofMib: ({ done, all }: { done: number; all: string }) => `${done} % of ${all} MiB`,
  theConnectionBrokeWhat:
    'The connection broke. What came is kept: choose the same file again, and it goes on from there.',
  stoppedWhatCameIs:
    'Stopped. What came is kept: choose the same file again, and it goes on from there.',
  thePageCouldNot: 'the page could not start its loupe',
  thePageCouldNotStart: 'the page could not start its decoder',
  theReadingsOfThis: "The readings of this track can't be had.",
};
