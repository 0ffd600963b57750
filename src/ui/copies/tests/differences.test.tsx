/** @jest-environment jsdom */
/** Two readings held against one another: which pairs are offered, and what is drawn of them. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { renderWithQueries, serve } from '../../../../tests/support/render';
import { differenceKey } from '../../charts/surface-overlay';
import type { DocketData } from '../../data/queries';
import { Differences } from '../differences';

const sitting = (id: number, readings = 160) => ({ id, captureBlob: id, readings });
const docket = (more: object = {}): DocketData =>
  ({
    medium: { code: 'TST-0001' },
    copy: { layout: 'mfm-35-9x512' },
    sittings: [],
    layout: { rule: {} },
    ...more,
  }) as unknown as DocketData;
const COPIES = [
  { code: 'TST-0001', title: 'itself', layout: 'mfm-35-9x512' },
  { code: 'TST-0002', title: 'its twin', layout: 'mfm-35-9x512' },
  { code: 'TST-0003', title: 'another kind', layout: 'mfm-35-18x512' },
];
const place = (cylinder: number, difference = 'differ') => ({
  cylinder,
  head: 1,
  r: 4,
  difference,
  bytes: 3,
  firstByte: 17,
});
const differing = (listed: object[], more = 0) => ({
  tally: { same: 1400, differ: listed.length, 'first-only': 2, 'second-only': 0, neither: 0 },
  listed,
  more,
});
const answers = (found: unknown) => (path: string) =>
  path.startsWith('/api/holdings') ? { copies: COPIES } : found;
const values = () =>
  [...screen.getByRole<HTMLSelectElement>('combobox').options].map(({ value }) => value);
const onShown = jest.fn();

beforeEach(() => onShown.mockReset());

test('media of the same layout are offered, and itself is not', async () => {
  serve({ get: answers(null) });
  renderWithQueries(<Differences data={docket()} onShown={onShown} />);
  await screen.findByRole('combobox');
  expect(values()).toEqual(['TST-0001|TST-0002']);
});

test('sittings are held against one another, and each against its first pass', async () => {
  serve({ get: answers(null) });
  const sittings = [sitting(9), sitting(8), sitting(7, 0)];
  renderWithQueries(<Differences data={docket({ sittings, copy: null })} onShown={onShown} />);
  await screen.findByRole('combobox');
  expect(values()).toEqual([
    'sitting-8|sitting-9',
    'sitting-9-first|sitting-9',
    'sitting-8-first|sitting-8',
  ]);
});

test('without anything to compare with there is nothing', async () => {
  const asked = serve({ get: answers(null) });
  const { container } = renderWithQueries(
    <Differences data={docket({ copy: null })} onShown={onShown} />,
  );
  expect([container.innerHTML, asked]).toEqual(['', []]);
});

test('what differs is listed, counted and drawn at the steps of the drive', async () => {
  const asked = serve({ get: answers(differing([place(3), place(5)])) });
  const data = docket({ layout: { rule: { stepping: 'double' } } });
  renderWithQueries(<Differences data={data} onShown={onShown} />);
  fireEvent.submit((await screen.findByRole('combobox')).closest('form')!);
  await waitFor(() => expect(onShown).toHaveBeenCalled());
  expect(asked.map(({ path }) => path)).toContain('/api/compare?a=TST-0001&b=TST-0002');
  const drawn = onShown.mock.calls.at(-1)![0] as Map<string, string>;
  expect([...drawn]).toEqual([
    [differenceKey(6, 1, 4), 'differ'],
    [differenceKey(10, 1, 4), 'differ'],
  ]);
  expect(document.querySelectorAll('tbody tr')).toHaveLength(2);
});

test('of very many forty are listed, and the rest counted', async () => {
  serve({
    get: answers(
      differing(
        Array.from({ length: 100 }, (_, i) => place(i)),
        900,
      ),
    ),
  });
  renderWithQueries(<Differences data={docket()} onShown={onShown} />);
  fireEvent.submit((await screen.findByRole('combobox')).closest('form')!);
  await waitFor(() => expect(document.querySelectorAll('tbody tr')).toHaveLength(40));
  expect(screen.getByTestId('differences').textContent).toContain('960');
});
