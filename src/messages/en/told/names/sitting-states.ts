/** How a sitting stands, by its identifier. */
export const sittingStates = {
  waiting: 'waiting',
  reading: 'reading',
  asks: 'asks',
  paused: 'paused',
  held: 'held',
  dirty: 'dirty',
  settling: 'settling',
  done: 'done',
  failed: 'failed',
};
