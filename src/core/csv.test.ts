import { csvRow } from './csv';

test('cells with quotes, commas and line ends are quoted; nothing begins as a formula', () => {
  expect(csvRow(['a', 3, null, 'b,c', 'say "no"', '=1+1', '-x', 'two\nlines'])).toBe(
    'a,3,,"b,c","say ""no""",\'=1+1,\'-x,"two\nlines"\r\n',
  );
});
