/** Cells from spreadsheets and CSV files, as rows of the register. */
import { csvRow } from '@/core/csv';
import { readNumbering } from '@/core/medium-code';
import fc from 'fast-check';
import { SHEET_COLUMNS, cellsOf, emptyRow, formOf, mediaOf, rowsOf } from './sheet';

test('tabs, commas and semicolons, quoted cells with line ends and quotes in them', () => {
  expect(cellsOf('a\tb\r\nc\td\r\n')).toEqual([
    ['a', 'b'],
    ['c', 'd'],
  ]);
  expect(cellsOf('a,"b, ""c""\nd",e\n')).toEqual([['a', 'b, "c"\nd', 'e']]);
  expect(cellsOf('a;b\n;\nc;d')).toEqual([
    ['a', 'b'],
    ['c', 'd'],
  ]);
});

test('a row of headings decides the columns, whatever they are called', () => {
  expect(
    rowsOf(
      [
        ['Owner', 'Description', 'Size', 'Remarks'],
        ['keeper', 'Fog log', '3½"', 'x'],
      ],
      'code',
    ),
  ).toEqual([
    expect.objectContaining({ lender: 'keeper', title: 'Fog log', form: '3½"', code: '' }),
  ]);
  expect(rowsOf([['SKP-0200', '8', 'Tides']], 'code')).toEqual([
    expect.objectContaining({ code: 'SKP-0200', form: '8', title: 'Tides' }),
  ]);
  expect(rowsOf([['Fog log', '“FOG”']], 'title')).toEqual([
    expect.objectContaining({ title: 'Fog log', labelText: '“FOG”' }),
  ]);
});

test.each([
  ['3½"', '3.5'],
  ['3.5 inch', '3.5'],
  ['5 1/4', '5.25'],
  ['5,25', '5.25'],
  ['8"', '8'],
  ['', '3.5'],
  ['cassette', 'cassette'],
  ['hard disk', 'hard-disk'],
  ['CD-R', 'optical-disc'],
  ['Optical disc', 'optical-disc'],
])('%s is the form %s', (text, form) => expect(formOf(text)).toBe(form));

test('missing codes follow on, past those that stand there; marks are found in the condition', () => {
  const rows = rowsOf(
    [
      ['', '3.5', 'one', '', '', '', '', '', 'Mould'],
      ['SKP-0130', '3.5', 'two'],
      ['', '', 'three', '', '', '', 'the set', '7', 'treat first'],
    ],
    'code',
  );
  expect(mediaOf(rows, () => readNumbering('SKP-0129')!)).toMatchObject([
    { code: 'SKP-0129', marks: ['mould'] },
    { code: 'SKP-0130' },
    { code: 'SKP-0131', form: '3.5', setName: 'the set', setNumber: '7', treatFirst: true },
  ]);
});

test('missing codes go on as those of their lot do, and lots that share a numbering share none', () => {
  const inLot = (title: string, lot: string) => ({ ...emptyRow(), title, lot });
  const rows = [
    inLot('one', 'A'),
    inLot('two', 'B'),
    inLot('three', ''),
    { ...inLot('four', 'A'), code: ' 018/2024 ' },
    inLot('five', 'A'),
    inLot('six', 'B'),
  ];
  const ofYear = { numbering: { before: '', digits: 3, after: '/2024' }, number: 17 };
  const next = (lot: string) => (lot === 'A' ? ofYear : readNumbering('SKP-0129')!);
  expect(mediaOf(rows, next).map(({ code }) => code)).toEqual([
    ...['017/2024', 'SKP-0129', 'SKP-0130', '018/2024', '019/2024', 'SKP-0131'],
  ]);
});

test('any text becomes rows without a failure, and no cell is lost from those that have columns', () => {
  fc.assert(
    fc.property(fc.string({ maxLength: 300 }), (text) => {
      for (const row of rowsOf(cellsOf(text), 'code'))
        expect(Object.keys(row)).toEqual([...SHEET_COLUMNS]);
    }),
  );
});

test('what an export writes is what the register reads', () => {
  fc.assert(
    fc.property(
      fc.array(
        fc
          .stringMatching(/^[a-z0-9",\n ]{1,12}$/)
          .filter((text) => text.trim() === text && text.trim() !== ''),
        { minLength: 2, maxLength: 6 },
      ),
      (cells) => {
        expect(cellsOf(csvRow(cells))).toEqual([cells]);
      },
    ),
  );
});
