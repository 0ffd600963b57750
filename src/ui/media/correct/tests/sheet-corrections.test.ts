/** A table of registered facts brought back: what each cell says, and what can't be understood. */
import { correctionsIn } from '../sheet-corrections';

const sheet = (...lines: string[]) => correctionsIn(lines.join('\r\n'));

test('rows by their code, with what shall be so of each column that is there', () => {
  expect(
    sheet(
      'code,title,Lender,place,write_protected,marks,recorded side',
      'skp-0103,Lamp rota,"Orrin, the keeper",3,yes,"mould, dye faded",both',
      'SKP-0104,Log,,,no,,not-said',
    ),
  ).toEqual({
    odd: [],
    unknown: [],
    rows: [
      {
        code: 'SKP-0103',
        change: {
          ...{ title: 'Lamp rota', lender: 'Orrin, the keeper', setNumber: 3 },
          ...{ writeProtected: true, recordedSide: 'both' },
          marks: {
            ...{ mould: true, shedding: false, warped: false, scratches: false },
            ...{ 'dye-faded': true, 'layer-clouded': false },
          },
        },
      },
      {
        code: 'SKP-0104',
        change: {
          ...{ title: 'Log', lender: '', setNumber: null },
          ...{ writeProtected: false, recordedSide: 'not-said' },
          marks: {
            ...{ mould: false, shedding: false, warped: false, scratches: false },
            ...{ 'dye-faded': false, 'layer-clouded': false },
          },
        },
      },
    ],
  });
});

test('where no form is said it stays as it is', () =>
  expect(sheet('code,form', 'AB-1,', 'AB-2,5 1/4')!.rows).toEqual([
    { code: 'AB-1', change: {} },
    { code: 'AB-2', change: { form: '5.25' } },
  ]));

test('a new code is one only where it is given; a cell that was made safe is as it was', () => {
  const { rows } = sheet('code;new_code;sticker', "A-1;;'=1+1", "AB-2;AB-7;'quoted")!;
  expect(rows).toEqual([
    { code: 'A-1', change: { labelText: '=1+1' } },
    { code: 'AB-2', change: { code: 'AB-7', labelText: "'quoted" } },
  ]);
});

test('a column of another name is left alone, also one that every object has', () => {
  expect(sheet('code,constructor,colour,title', 'AB-1,x,y,z')).toEqual({
    rows: [{ code: 'AB-1', change: { title: 'z' } }],
    odd: [],
    unknown: ['constructor', 'colour'],
  });
});

test.each([
  ['title', ''],
  ['form', 'wax cylinder'],
  ['place', 'third'],
  ['place', '0'],
  ['write_protected', 'perhaps'],
  ['marks', 'mould, rust'],
  ['recorded_side', 'left'],
  ['new_code', '-x'],
])('a cell of %s that says “%s” is told with its row', (column, text) => {
  const read = sheet(`code,${column},lender`, 'AB-1,,kept', `AB-2,"${text}",kept`)!;
  expect(read.odd.filter(({ row }) => row === 3)).toEqual([{ row: 3, column, text }]);
});

test('a row without a code is told, and a table without a column of codes is none', () => {
  expect(sheet('code,title', ',Lamp rota')!.odd).toEqual([{ row: 2, column: 'code', text: '' }]);
  expect([sheet('title,lender', 'a,b'), sheet('')]).toEqual([null, null]);
});

test('marks, tabs and byte order marks of spreadsheets', () => {
  expect(correctionsIn('\uFEFFcode\ttitle\nAB-1\tOne, two')!.rows).toEqual([
    { code: 'AB-1', change: { title: 'One, two' } },
  ]);
});
