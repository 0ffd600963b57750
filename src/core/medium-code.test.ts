import fc from 'fast-check';
import {
  codeAt,
  fileNameOfCode,
  isMediumCode,
  normalizeCode,
  numberIn,
  parseCodePattern,
  readNumbering,
} from './medium-code';

test.each(['SKP-0131', '2024/017/3', 'A', '7', 'MS 12.B', 'X_1+2:3', 'A'.repeat(40)])(
  '%s is a code',
  (code) => expect(isMediumCode(code)).toBe(true),
);

test.each(['', '-A', 'A-', '/7', '7/', '.', '..', 'a', 'É1', 'A,B', 'A#1', 'A%2F', 'A'.repeat(41)])(
  '“%s” is none',
  (code) => expect(isMediumCode(code)).toBe(false),
);

test('a code is kept in capitals, with single spaces', () => {
  expect(normalizeCode('  ms \t12.b ')).toBe('MS 12.B');
});

test.each([
  ['SKP-0131', 'SKP-', 131, 4, ''],
  ['2024/017/3', '2024/017/', 3, 1, ''],
  ['12/B', '', 12, 2, '/B'],
  ['202411301234567', '202411', 301234567, 9, ''],
])('the last number of %s counts', (code, before, number, digits, after) => {
  expect(readNumbering(code)).toEqual({ numbering: { before, digits, after }, number });
});

test('a code without a number has nothing that counts', () => {
  expect(readNumbering('LAMP')).toBeNull();
});

test('codes of a pattern are counted, whatever stands around the number', () => {
  const pattern = parseCodePattern('###/2024')!;
  expect(codeAt(pattern, 17)).toBe('017/2024');
  expect(numberIn(pattern, '017/2024')).toBe(17);
  expect(numberIn(pattern, '1017/2024')).toBe(1017);
  expect(numberIn(pattern, '017/2025')).toBeNull();
  // Before and after may not stand on the same characters.
  expect(numberIn({ before: 'A-', digits: 1, after: '-A' }, 'A-A')).toBeNull();
});

test.each(['', 'SKP-', 'A##B#', '1#', '#1', 'a#', '#'.repeat(10), `${'A'.repeat(32)}#`])(
  'the pattern “%s” makes no codes',
  (pattern) => expect(parseCodePattern(pattern)).toBeNull(),
);

test('a numbering gives each code back', () => {
  const codes = fc.stringMatching(/^[A-Z0-9]([A-Z0-9 ./_+:-]{0,30}[A-Z0-9])?$/);
  fc.assert(
    fc.property(codes, (code) => {
      const read = readNumbering(code);
      expect(isMediumCode(code)).toBe(true);
      expect(read ? codeAt(read.numbering, read.number) : code).toBe(code);
      if (read) expect(numberIn(read.numbering, code)).toBe(read.number);
    }),
  );
});

test('a file of a medium is named so that every system takes it', () => {
  expect(fileNameOfCode('2024/017:3')).toBe('2024-017-3');
  expect(fileNameOfCode('SKP-0104')).toBe('SKP-0104');
});
