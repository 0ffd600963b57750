/** Elements of a description, by their identifiers. */
export const elements = {
  alternative: 'another title',
  creator: 'creator',
  contributor: 'contributor',
  publisher: 'publisher',
  date: 'date',
  description: 'what it holds',
  subject: 'subject',
  coverage: 'place or time it is about',
  language: 'language',
  type: 'type',
  extent: 'extent',
  source: 'source',
  relation: 'belongs with',
  identifier: 'other identifier',
  notes: 'notes',
};
