/** @jest-environment jsdom */
/** The media that wait, a row each. */
import { fireEvent, render, screen, within } from '@testing-library/react';
import { ArrivalsTable } from './arrivals-table';
import type { ArrivingMedium } from './use-arrivals';

const medium = (code: string, more: Partial<ArrivingMedium> = {}): ArrivingMedium => ({
  id: Number(code.slice(-4)),
  code,
  form: '3.5',
  title: `Title of ${code}`,
  labelText: 'a label',
  lender: 'a keeper',
  lot: 'lot 1',
  condition: 'good',
  isBlank: false,
  isReference: false,
  recordedSide: 'not-said',
  setName: '',
  setNumber: null,
  marks: [],
  treatFirst: false,
  writeProtected: false,
  station: null,
  sittingState: null,
  ...more,
});

beforeAll(() => {
  // jsdom lays nothing out.
  Element.prototype.scrollIntoView = jest.fn();
});

const cellsOf = (code: string) =>
  within(screen.getByText(code).closest('tr')!)
    .getAllByRole('cell')
    .map(({ textContent }) => textContent);

function show(media: ArrivingMedium[], chosen = media[0]) {
  const onChoose = jest.fn();
  render(<ArrivalsTable media={media} chosen={chosen} onChoose={onChoose} />);
  return onChoose;
}

test('what a record lacks is named, of blanks and references nothing', () => {
  show([
    medium('TST-0001', { lender: '', labelText: '', condition: '' }),
    medium('TST-0002'),
    medium('TST-0003', { isBlank: true, lender: '', labelText: '' }),
    medium('TST-0004', { condition: '', marks: ['mould'] }),
  ]);
  const lacks = (code: string) => cellsOf(code)[6];
  expect(lacks('TST-0001')).toBe('owner, label, condition');
  expect(lacks('TST-0002')).toBe('–');
  expect(lacks('TST-0003')).toBe('');
  expect(lacks('TST-0004')).toBe('–');
});

test.each([
  [{ station: 3, sittingState: 'reading' as const }, 'station 3, reading'],
  [{ station: 3, sittingState: 'done' as const }, 'in station 3'],
  [{ treatFirst: true }, 'treat first'],
  [{ isReference: true }, 'reference, for testing drives'],
  [{ isBlank: true }, 'blank, may be written'],
  [{ sittingState: 'done' as const }, 'read, no layout fits'],
  [{}, 'ready'],
])('%j: what is to be done next', (more, next) => {
  show([medium('TST-0001', more)]);
  expect(cellsOf('TST-0001').at(-1)).toBe(next);
});

test('marks stand beside what was written of the condition, and make the risk', () => {
  show([medium('TST-0001', { marks: ['mould', 'dye-faded'], writeProtected: true })]);
  expect(cellsOf('TST-0001')[4]).toBe('mouldYdye fadedYgoodYwrite-protected'.replaceAll('Y', ''));
  expect(screen.getByRole('img', { name: 'risk 5 of 5' })).toBeTruthy();
});

test('the chosen row is the one that is selected; another is chosen by a press', () => {
  const media = [medium('TST-0001'), medium('TST-0002')];
  const onChoose = show(media, media[1]);
  const rows = screen.getAllByRole('row').slice(1);
  expect(rows.map((row) => row.getAttribute('aria-selected'))).toEqual(['false', 'true']);
  fireEvent.click(screen.getByText('Title of TST-0001'));
  expect(onChoose).toHaveBeenCalledWith('TST-0001');
});
