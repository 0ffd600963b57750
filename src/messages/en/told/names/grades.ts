/** What is known of a sector or a block, by its identifier. */
export const grades = {
  firm: 'firm',
  mended: 'mended',
  doubtful: 'doubtful',
  lost: 'lost',
  unread: 'unread',
};
