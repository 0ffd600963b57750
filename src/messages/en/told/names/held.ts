/** What is held is faceted by, by its identifier; names of people, lots and layouts stay as they are. */
export const held = {
  'flat image': 'flat image',
  'in doubt': 'in doubt',
  sound: 'sound',
  'in quarantine': 'in quarantine',
  'held twice': 'held twice',
  'a copy': 'a copy',
  'none found': 'none found',
  'not known': 'not known',
  none: 'none',
};
