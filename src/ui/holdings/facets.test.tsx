/** @jest-environment jsdom */
/** Narrowing the holdings: which facets are offered, what one more click asks, and what it forgets. */
import { fireEvent, render, screen, within } from '@testing-library/react';
import type { Asked, Holdings } from '../data/queries';
import { Facets } from './facets';

const values = (...names: string[]) =>
  names.map((value, i) => ({ value, count: names.length - i }));
const facets = (more: Partial<Holdings['facets']> = {}): Holdings['facets'] => ({
  state: values('whole', 'in doubt'),
  form: values('3.5'),
  filesystem: values('fat12', 'prodos'),
  lender: [],
  lot: values('a', 'b', 'c', 'd', 'e', 'f', 'g', 'h'),
  layout: values('mfm-35-9x512'),
  ...more,
});
const onAsk = jest.fn();
const show = (asked: Asked = { q: 'dues' }) =>
  render(<Facets facets={facets()} asked={asked} onAsk={onAsk} />);
const sections = () => screen.getAllByRole('region').map((each) => each.getAttribute('aria-label'));
const lots = () => screen.getByRole('region', { name: 'Lot' });

beforeEach(() => onAsk.mockReset());

test('a facet of one value narrows nothing and is not offered', () => {
  show();
  expect(sections()).toEqual(['State', 'Volume', 'Lot']);
});

test('a file system is named in capitals, and that none was found is no name', () => {
  const volumes = facets({ filesystem: values('fat12', 'none found') });
  render(<Facets facets={volumes} asked={{ q: '' }} onAsk={onAsk} />);
  const shown = within(screen.getByRole('region', { name: 'Volume' })).getAllByRole('button');
  expect(shown.map((each) => each.firstChild!.textContent)).toEqual(['FAT12', 'none found']);
});

test('of many values six are shown, and the rest can be opened', () => {
  show();
  expect(within(lots()).getAllByRole('button', { hidden: true })).toHaveLength(8);
  expect(lots().querySelectorAll('details button')).toHaveLength(2);
});

test('a value is asked for beside what is asked already, from the first page on', () => {
  show({ q: 'dues', filesystem: 'prodos', more: 200 });
  fireEvent.click(within(lots()).getByRole('button', { name: /^c/ }));
  expect(onAsk.mock.calls).toEqual([[{ q: 'dues', filesystem: 'prodos', lot: 'c' }]]);
});

test('a chosen value stands alone and pressed, and is given up by another click', () => {
  show({ q: 'dues', lot: 'c' });
  const [button, ...others] = within(lots()).getAllByRole('button');
  expect(others).toEqual([]);
  expect(button!.getAttribute('aria-pressed')).toBe('true');
  fireEvent.click(button!);
  expect(onAsk.mock.calls).toEqual([[{ q: 'dues' }]]);
});

test('a chosen facet is shown even with one value, and all of it can be left at once', () => {
  show({ q: 'dues', layout: 'mfm-35-9x512', lot: 'c' });
  expect(sections()).toContain('Layout');
  fireEvent.click(screen.getByRole('button', { name: 'Show all again' }));
  expect(onAsk.mock.calls).toEqual([[{ q: 'dues' }]]);
});
