/** What the pages of titles say. */
export const titles = {
  thisPageCouldNot: 'This page could not be put together',
  nothingThatWasRead:
    'Nothing that was read is lost, and sittings go on without it. If the database was just started, wait a moment.',
  tryAgain: 'Try again',
  frailSpindle: 'Frail Spindle',
  readsAgeingDisksChecks: 'Reads ageing disks, checks them, opens them, and writes them back.',
  thereIsNothingBy: 'There is nothing by that name here',
  itMayBeRegistered: 'It may be registered under another code. Look for it in',
  holdings: 'Holdings',
  or: 'or',
  arrivals: 'Arrivals',
};
