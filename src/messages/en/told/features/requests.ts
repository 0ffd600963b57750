/** What the feature requests says: in errors, in the ledger, of work under way. */
export const requests = {
  sayWhichTwoAre: 'Say which two are to be compared.',
  suchLayout: 'such layout',
  aPaperBelongsTo: 'A paper belongs to a medium, to a set or to a lot.',
  thereIsNoSuch: 'There is no such track.',
  aPartIsApplication: 'A part is application/offset+octet-stream.',
  sayWhereThePart: 'Say where the part begins (Upload-Offset).',
};
