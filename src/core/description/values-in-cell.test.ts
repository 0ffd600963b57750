import fc from 'fast-check';
import { cellOfValues, valuesInCell } from './values-in-cell';

test('values stand with bars between them, and a bar of their own is told from those', () => {
  expect(cellOfValues(['A. Rook', 'a|b', 'c\\d'])).toBe('A. Rook | a\\|b | c\\\\d');
  expect(valuesInCell('A. Rook|B. Jay |  | a\\|b')).toEqual(['A. Rook', 'B. Jay', 'a|b']);
  expect(valuesInCell('C:\\temp')).toEqual(['C:\\temp']);
  expect(valuesInCell(' ')).toEqual([]);
});

test('whatever values are, a cell gives them back', () => {
  const value = fc
    .string({ unit: fc.constantFrom('a', '|', '\\', ' ', '\n', 'é'), minLength: 1, maxLength: 12 })
    .filter((text) => text.trim() === text && text !== '');
  fc.assert(
    fc.property(fc.array(value, { maxLength: 5 }), (values) => {
      expect(valuesInCell(cellOfValues(values))).toEqual(values);
    }),
  );
});
