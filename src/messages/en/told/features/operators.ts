/** What the feature operators says: in errors, in the ledger, of work under way. */
export const operators = {
  sayWhoIsAt: 'Say who is at work first: choose a name at the foot of the sidebar.',
};
