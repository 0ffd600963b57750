import { csvRow } from './csv';

test.each([
  '＝1+1',
  '＋1',
  '－1',
  '＠sum',
  ' =1',
  '\u00a0=1',
  '\u200b=1',
  '\u200d\u2060+1',
  '\ufeff@x',
  '\u00ad-1',
  '\u202e=1',
  '\u0000=1',
  '\n=1',
  '\t1',
])('%j begins as a formula for some spreadsheet, and is text here', (cell) => {
  expect(csvRow([cell])).toMatch(/^"?'/);
});

test.each(['Tide tables', 'a=b', '’tis', '№ 4', '(−3)', 'ﬁ'])('%j is left as it is', (cell) => {
  expect(csvRow([cell])).toBe(`${cell}\r\n`);
});

test('cells with quotes, commas and line ends are quoted; nothing begins as a formula', () => {
  expect(csvRow(['a', 3, null, 'b,c', 'say "no"', '=1+1', '-x', 'two\nlines'])).toBe(
    'a,3,,"b,c","say ""no""",\'=1+1,\'-x,"two\nlines"\r\n',
  );
});
