/** What a record may lack, by its identifier. */
export const lacks = {
  'what it is': 'what it is',
  owner: 'owner',
  label: 'label',
  condition: 'condition',
  photo: 'photo',
  side: 'side',
};
