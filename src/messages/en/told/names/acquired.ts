/** How something came into the house, by its identifier. */
export const acquired = {
  loan: 'on loan',
  deposit: 'on deposit',
  gift: 'as a gift',
  bequest: 'by bequest',
  purchase: 'bought',
  transfer: 'transferred',
  found: 'found in the house',
  'not-said': 'how is not said',
};
