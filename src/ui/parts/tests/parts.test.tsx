/** @jest-environment jsdom */
/** Small parts of every page: amounts, gauges, tallies, and bytes with what lies over them. */
import { fireEvent, render, screen } from '@testing-library/react';
import { amount } from '@/core/text/amount';
import { Gauge } from '../gauge';
import { grouped } from '@/core/text/grouped';
import { TallyRow } from '../grade';
import { HexRows, hexPlace } from '../hex-rows';

test.each([
  [0, '0 bytes'],
  [1023, '1\u2009023 bytes'],
  [1024, '1.0 KiB'],
  [1536, '1.5 KiB'],
  [1_474_560, '1.4 MiB'],
  [500 * 1024 ** 2, '500 MiB'],
  [3 * 1024 ** 4, '3.0 TiB'],
  [5000 * 1024 ** 4, '5\u2009000 TiB'],
])('%i bytes are %s', (bytes, told) => expect(amount(bytes)).toBe(told));

test('numbers are in groups of three', () => {
  expect([0, 999, 1000, 1_234_567].map(grouped)).toEqual([
    '0',
    '999',
    '1\u2009000',
    '1\u2009234\u2009567',
  ]);
});

test.each([
  [0, 0, '0'],
  [1, 3, '33'],
  [3, 3, '100'],
  [5, 3, '100'],
])('%i of %i fill a gauge to %s', (done, of, now) => {
  render(<Gauge done={done} of={of} label="read" />);
  expect(screen.getByRole('progressbar', { name: 'read' }).getAttribute('aria-valuenow')).toBe(now);
});

test('a tally counts every grade, those of nothing too', () => {
  render(<TallyRow tally={{ firm: 1440, mended: 3, doubtful: 0, lost: 2, unread: 0 }} />);
  const counts = [...screen.getByTestId('tally').children].map((each) => [
    (each as HTMLElement).dataset.grade,
    (each as HTMLElement).dataset.count,
  ]);
  expect(Object.fromEntries(counts)).toEqual({
    firm: '1440',
    mended: '3',
    doubtful: '0',
    lost: '2',
    unread: '0',
  });
});

const BYTES = Uint8Array.from({ length: 20 }, (_, i) => 0x3c + i);
const rows = () => [...document.querySelectorAll('[translate=no]')];

test('rows have their place, their bytes and their letters, the last one filled up', () => {
  render(<HexRows bytes={BYTES} from={0x1f0} perRow={16} />);
  const [first, last] = rows().map((row) => row.textContent!);
  expect(first).toBe(`01F0  3C 3D 3E 3F 40 41 42 43 44 45 46 47 48 49 4A 4B  <=>?@ABCDEFGHIJK`);
  expect(last!.startsWith('0200  4C 4D 4E 4F ')).toBe(true);
  expect(last!.endsWith('LMNO')).toBe(true);
  expect(first!.indexOf('<')).toBe(last!.indexOf('LMNO'));
});

test('letters are of printable bytes only', () => {
  render(<HexRows bytes={Uint8Array.of(0x00, 0x1f, 0x20, 0x7e, 0x7f, 0xff)} perRow={8} />);
  expect(rows()[0]!.textContent!.endsWith('·· ~··')).toBe(true);
});

test('what lies over bytes goes on over the end of a row, and names add up where they overlap', () => {
  render(
    <HexRows
      bytes={BYTES}
      perRow={8}
      marks={[
        { offset: 6, length: 4, mark: 'field', name: 'length' },
        { offset: 8, length: 1, mark: 'doubt', name: 'in doubt' },
      ]}
    />,
  );
  expect(
    [...document.querySelectorAll('[title]')].map((each) => [
      each.getAttribute('title'),
      each.textContent,
    ]),
  ).toEqual([
    ['length', '42 43'],
    ['length; in doubt', '44'],
    ['length', '45'],
  ]);
});

test('a row that is clicked gives its place', () => {
  const picked: number[] = [];
  render(<HexRows bytes={BYTES} from={64} perRow={8} onPick={(place) => picked.push(place)} />);
  fireEvent.click(rows()[1]!);
  expect(picked).toEqual([72]);
  expect(hexPlace(72)).toBe('48h');
});
