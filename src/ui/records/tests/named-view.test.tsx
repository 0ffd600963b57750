/** @jest-environment jsdom */
/** A lender's page: what is known, its lots and media; only what was changed is sent. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { changesIn, renderWithQueries, serve } from '../../../../tests/support/render';
import { NamedView } from '../named/named-view';

const replace = jest.fn();
jest.mock('next/navigation', () => ({ useRouter: () => ({ replace, push: jest.fn() }) }));

const PAGE = {
  kind: 'lenders',
  record: { name: 'E. Wren / sons', contact: 'Quay 4', notes: '' },
  lots: [{ name: 'lot 7', cameIn: '2026-03-01', handBackBy: '' }],
  media: { all: 1, read: 0, rows: [] },
};
const field = (name: string) => document.querySelector<HTMLInputElement>(`[name="${name}"]`)!;

test('its lots lead to their pages, and what was changed alone is sent', async () => {
  const asked = serve({ get: PAGE });
  renderWithQueries(<NamedView kind="lenders" name="E. Wren / sons" />);
  expect((await screen.findByText('lot 7')).getAttribute('href')).toBe('/lots/lot%207');
  expect(screen.getByText('Quay 4')).toBeTruthy();
  fireEvent.click(screen.getByRole('button'));
  fireEvent.change(field('name'), { target: { value: 'E. Wren' } });
  fireEvent.submit(document.querySelector('form')!);
  await waitFor(() => expect(replace).toHaveBeenCalledWith('/lenders/E.%20Wren'));
  expect(changesIn(asked)).toEqual([
    { path: '/api/named/lenders/E.%20Wren%20%2F%20sons', body: { name: 'E. Wren' } },
  ]);
});

test('a machine says what it is, and has no lots', async () => {
  const record = { name: 'recorder', kind: '8-bit', identifier: '', notes: '' };
  serve({ get: { ...PAGE, kind: 'machines', record, lots: [] } });
  renderWithQueries(<NamedView kind="machines" name="recorder" />);
  expect(await screen.findByText('8-bit')).toBeTruthy();
  expect(screen.queryByText('lot 7')).toBeNull();
  fireEvent.click(screen.getByRole('button'));
  expect(['name', 'kind', 'identifier', 'notes'].map((name) => field(name).value)).toEqual([
    'recorder',
    '8-bit',
    '',
    '',
  ]);
});
