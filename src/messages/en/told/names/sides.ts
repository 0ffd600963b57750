/** Which side of a medium holds anything, by its identifier. */
export const sides = {
  'not-said': 'not said',
  both: 'both sides',
  label: 'label side only',
  back: 'back only',
};
