/** What is said where a medium goes out of use, or comes back. */
export const withdrawal = {
  withdrawOrMerge: 'Withdraw or merge it',
  actions: {
    withdraw: 'Withdraw it',
    merge: 'It is another that is registered as well',
    reinstate: 'Reinstate it',
  },
  leavesTheLists:
    'It leaves Arrivals, Holdings and every list of work. Its docket stays, with all that was ' +
    'read, and it can be reinstated.',
  becomesOne:
    'The other has all that was read, kept, described and laid beside this one, and what is ' +
    'registered of this one alone. The code of this one leads to it from then on. This is not ' +
    'taken back.',
  comesBack: 'It stands in the lists again as it was.',
  codeOfTheOther: 'Code of the medium that stays',
  why: 'Why',
  doIt: { withdraw: 'Withdraw it', merge: 'Merge the two', reinstate: 'Reinstate it' },
  reinstate: 'Reinstate it',
  withdrawnOn: ({ day }: { day: string }) => `Withdrawn, ${day}.`,
  isInNoList:
    'It stands in no list of work. What was read of it is kept, and checked like all else.',
};
