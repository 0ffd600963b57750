/** @jest-environment jsdom */
/** The grid that registers many: it is typed into, pasted into, and stored in one go. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { keepSent, renderWithQueries } from '../../../../tests/support/render';
import { ManyDialog } from '../many-dialog';
import { SHEET_COLUMNS, type SheetColumn } from '../sheet';

const cell = (row: number, column: SheetColumn) =>
  document.querySelector<HTMLInputElement>(
    `[data-cell="${row}-${SHEET_COLUMNS.indexOf(column)}"]`,
  )!;
const fill = (row: number, column: SheetColumn, value: string) =>
  fireEvent.change(cell(row, column), { target: { value } });
const registerButton = () =>
  screen.getByRole<HTMLButtonElement>('button', { name: /^register \d*$/i });

beforeEach(() => localStorage.clear());

test('what is typed goes on in the same cell', () => {
  renderWithQueries(<ManyDialog open onOpenChange={() => {}} nextCode="TST-0007" />);
  const first = cell(0, 'title');
  first.focus();
  for (const value of ['D', 'Du', 'Due', 'Dues'])
    fireEvent.change(document.activeElement!, { target: { value } });
  expect(document.activeElement).toBe(first);
  expect(cell(0, 'title').value).toBe('Dues');
});

test('a paste fills rows, names their codes, and leaves empty rows behind them', () => {
  renderWithQueries(<ManyDialog open onOpenChange={() => {}} nextCode="TST-0007" />);
  fireEvent.paste(cell(0, 'form'), {
    clipboardData: { getData: () => '3.5\tDues 1984\n3.5\tDues 1985\n3.5\tDues 1986' },
  });
  const rows = [0, 1, 2];
  expect(rows.map((row) => cell(row, 'title').value)).toEqual([
    'Dues 1984',
    'Dues 1985',
    'Dues 1986',
  ]);
  expect(rows.map((row) => cell(row, 'code').placeholder)).toEqual([
    'TST-0007',
    'TST-0008',
    'TST-0009',
  ]);
  expect(cell(5, 'title').value).toBe('');
});

test('a row that lacks something is marked, and nothing is stored until it is right', () => {
  renderWithQueries(<ManyDialog open onOpenChange={() => {}} nextCode="TST-0007" />);
  fill(0, 'title', 'Dues');
  fill(0, 'form', 'no such form');
  expect(cell(0, 'form').getAttribute('aria-invalid')).toBe('true');
  expect(registerButton().disabled).toBe(true);
});

test('arrows and Enter go from row to row of a column', () => {
  renderWithQueries(<ManyDialog open onOpenChange={() => {}} nextCode="TST-0007" />);
  cell(0, 'title').focus();
  fireEvent.keyDown(cell(0, 'title'), { key: 'Enter' });
  expect(document.activeElement).toBe(cell(1, 'title'));
  fireEvent.keyDown(cell(1, 'title'), { key: 'ArrowUp' });
  expect(document.activeElement).toBe(cell(0, 'title'));
});

test('stored, every row goes with its code, and the draft is forgotten', async () => {
  const sent = keepSent({ registered: 1 });
  let open = true;
  renderWithQueries(<ManyDialog open onOpenChange={(to) => (open = to)} nextCode="TST-0007" />);
  fill(0, 'title', 'Dues');
  fill(0, 'form', '3.5');
  fireEvent.click(registerButton());
  await waitFor(() => expect(open).toBe(false));
  expect(sent).toMatchObject([
    { path: '/api/media', body: { media: [{ code: 'TST-0007', title: 'Dues', form: '3.5' }] } },
  ]);
  expect(localStorage.getItem('spindle-register-draft')).toBeNull();
});
