/** @jest-environment jsdom */
/** The set of a medium: its members, what is missing, and what is stored of the set itself. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { changesIn, renderWithQueries, serve } from '../../../../tests/support/render';
import type { DocketData } from '../../data/queries';
import { SetPanel } from './set-panel';

const SET = {
  name: 'Seven discs',
  members: 7,
  own: [
    { code: 'TST-0001', title: 'first', number: 1 },
    { code: 'TST-0003', title: 'third', number: 3 },
  ],
  count: 2,
  missing: [2, 4, 5, 6, 7],
};
const docket = (set: typeof SET | null): DocketData =>
  ({
    medium: { code: 'TST-0001', setName: set?.name ?? '', setNumber: set ? 1 : null },
    set,
  }) as unknown as DocketData;
const show = (set: typeof SET | null) => renderWithQueries(<SetPanel data={docket(set)} />);
const field = (name: string) => document.querySelector<HTMLInputElement>(`[name="${name}"]`)!;
const fill = (values: Record<string, string>) => {
  for (const [name, value] of Object.entries(values))
    fireEvent.change(field(name), { target: { value } });
  fireEvent.submit(field('name').closest('form')!);
};
const ofMedium = (body: object) => ({ path: '/api/media/TST-0001', body });
const ofSet = (name: string, members: number | null) => ({
  path: `/api/sets/${encodeURIComponent(name)}`,
  body: { members },
});

test('the others of the set are linked, and what is missing is told', () => {
  serve();
  show(SET);
  expect(screen.getAllByRole('link').map((link) => link.getAttribute('href'))).toEqual([
    '/sets/Seven%20discs',
    '/media/TST-0003',
  ]);
  expect(screen.getByTestId('set').textContent).toContain('2, 4, 5, 6, 7');
});

test.each([
  [
    'a new set with its number of members',
    null,
    { name: ' Fog logs ', number: '2', members: '5' },
    [ofMedium({ setName: 'Fog logs', setNumber: 2 }), ofSet('Fog logs', 5)],
  ],
  [
    'another set, of which nothing is said',
    SET,
    { name: 'Fog logs', number: '2', members: '' },
    [ofMedium({ setName: 'Fog logs', setNumber: 2 })],
  ],
  [
    'the same set without its number of members',
    SET,
    { members: '' },
    [ofMedium({ setName: 'Seven discs', setNumber: 1 }), ofSet('Seven discs', null)],
  ],
  ['no set any more', SET, { name: '' }, [ofMedium({ setName: '', setNumber: null })]],
])('%s', async (_, set, values, sent) => {
  const asked = serve();
  show(set);
  fill(values as Record<string, string>);
  await waitFor(() => expect(changesIn(asked)).toEqual(sent));
});

test('a refusal is said', async () => {
  serve({ answer: { error: 'Disk 2 of Fog logs is TST-0009.' }, status: 409 });
  show(null);
  fill({ name: 'Fog logs', number: '2' });
  expect((await screen.findByRole('alert')).textContent).toBe('Disk 2 of Fog logs is TST-0009.');
});
