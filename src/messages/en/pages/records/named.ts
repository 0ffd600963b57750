/** What the pages of lenders and machines say. */
export const named = {
  over: {
    lenders: ({ media }: { media: string }) => `Lender · ${media}`,
    machines: ({ media }: { media: string }) => `Machine · ${media}`,
  },
  known: 'What is known',
  facts: {
    name: 'What it is called',
    contact: 'How to reach them',
    kind: 'Kind of machine',
    identifier: 'Serial or inventory number',
    notes: 'Notes',
  },
  correct: { lenders: 'Correct the lender', machines: 'Correct the machine' },
  about: {
    lenders: 'Its media and lots follow its name.',
    machines: 'Its media follow its name.',
  },
  cameIn: ({ day }: { day: string }) => `came in ${day}`,
  backBy: ({ day }: { day: string }) => `to be handed back by ${day}`,
  lenders: 'Lenders',
  machines: 'Machines',
  lender: 'Lender',
  machine: 'Machine',
  contactHead: 'To be reached',
  kindHead: 'Kind',
};
