import fc from 'fast-check';
import { ELEMENTS, holdsValue, termOf } from './elements';
import { isExtendedDate } from './extended-date';
import { inherited } from './inherited';
import { isLanguageTag } from './language-tag';

test.each([
  ...['1987', '1987-03', '1987-03-09', '1988-02-29', '2000-02-29', '198X', '19XX'],
  ...[
    '1987?',
    '1987-03~',
    '1987-03-09%',
    '1985/1992',
    '1985-06/..',
    '../1992',
    '/1992',
    '1985~/1992?',
  ],
  ...['1985/1985', '198X/1985', '1985-06/1985', '1985/198X', '1985-12-31/1986-01'],
])('%s is a date', (value) => {
  expect(isExtendedDate(value)).toBe(true);
});

test.each([
  ...['', 'spring 1987', '87', '1987-13', '1987-00', '1987-02-30', '1900-02-29', '1987-3-9'],
  ...['198X-03', '1985/1990/1992', '/', '../..', '/..', '1987??', '1987 ', '09.03.1987', '1X87'],
  ...['1992/1985', '1985-07/1985-06', '1990/198X', '1985-06-02/1985-06-01', '1985?/1984~'],
])('“%s” is none', (value) => {
  expect(isExtendedDate(value)).toBe(false);
});

test('every day of the calendar is a date, and no other', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1000, max: 9999 }),
      fc.integer({ min: 0, max: 14 }),
      fc.integer({ min: 0, max: 33 }),
      (year, month, day) => {
        const date = new Date(Date.UTC(year, month - 1, day));
        const isReal = date.getUTCMonth() === month - 1 && date.getUTCDate() === day;
        const two = (number: number) => String(number).padStart(2, '0');
        expect(isExtendedDate(`${year}-${two(month)}-${two(day)}`)).toBe(isReal);
      },
    ),
  );
});

test.each(['en', 'de', 'pt-BR', 'zh-Hant-TW', 'gsw', 'en-GB-oxendict'])('%s is a tag', (tag) => {
  expect(isLanguageTag(tag)).toBe(true);
});
test.each(['', 'English', 'EN', 'e', 'en_GB', 'en-', 'en-a', 'x-own', 'engl', 'en GB'])(
  '“%s” is no tag',
  (tag) => {
    expect(isLanguageTag(tag)).toBe(false);
  },
);

test('what is said of a type is of the vocabulary, and of others are any words', () => {
  expect(holdsValue('type', 'Software')).toBe(true);
  expect(holdsValue('type', 'software')).toBe(false);
  expect(holdsValue('creator', 'software')).toBe(true);
});

test('every element is a term of Dublin Core', () => {
  expect(ELEMENTS.map(termOf)).toEqual(
    expect.arrayContaining(['dc:creator', 'dc:subject', 'dcterms:extent', 'dcterms:alternative']),
  );
  for (const element of ELEMENTS) expect(termOf(element)).toMatch(/^dc(terms)?:[a-z]+$/);
});

const none = { elements: {}, acquisition: null };

test('the nearest that says an element says it whole', () => {
  const { elements, acquisition } = inherited({
    medium: { elements: { creator: ['A. Rook'] }, acquisition: null },
    set: {
      elements: { creator: ['B. Jay'], subject: ['fog', 'lamps'] },
      acquisition: 'of the set',
    },
    lot: {
      elements: { subject: ['harbours'], language: ['en'], extent: ['11 disks'], notes: ['x'] },
      acquisition: 'of the lot',
    },
  });
  expect(elements).toEqual([
    { element: 'creator', values: ['A. Rook'], from: 'medium' },
    { element: 'language', values: ['en'], from: 'lot' },
    { element: 'subject', values: ['fog', 'lamps'], from: 'set' },
  ]);
  expect(acquisition).toEqual({ value: 'of the set', from: 'set' });
});

test('what is true of a whole alone is told of the whole alone', () => {
  const lot = { elements: { extent: ['11 disks'], coverage: ['The Skerries'] }, acquisition: null };
  const names = (self: 'medium' | 'lot') =>
    inherited({ lot }, self).elements.map(({ element }) => element);
  expect(names('medium')).toEqual(['coverage']);
  expect(names('lot')).toEqual(['coverage', 'extent']);
});

test('where nobody says anything nothing is inherited', () => {
  expect(inherited({})).toEqual({ elements: [], acquisition: null });
  expect(inherited({ medium: none, lot: none })).toEqual({ elements: [], acquisition: null });
});
