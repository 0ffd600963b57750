/** What is seen of a medium's condition, by its identifier. */
export const marks = {
  mould: 'mould',
  shedding: 'shedding',
  warped: 'warped',
  'dye-faded': 'dye faded',
  'layer-clouded': 'layer clouded',
  scratches: 'scratches',
};
