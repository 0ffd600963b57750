/** @jest-environment jsdom */
/** One transfer: its gauge, what to do at the other end, and how it is given up. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { renderWithQueries, serve } from '../../../tests/support/render';
import type { TransferRow } from '../data/queries';
import { TransferPanel } from './transfer-panel';

const row = (more: Partial<TransferRow> = {}): TransferRow =>
  ({
    id: 9,
    code: 'TST-0001',
    title: 'Dues',
    line: 'L1',
    rate: 1200,
    large: false,
    loaderLines: 0,
    typingRate: 10,
    nameThere: '',
    bytes: 1000,
    state: 'sending',
    now: 'Sending.',
    progress: { acknowledged: 250 },
    repeated: 0,
    cancelled: false,
    who: 'Ada',
    startedAt: '2026-11-28T10:00:00.000Z',
    endedAt: null,
    ...more,
  }) as unknown as TransferRow;
const show = (more?: Partial<TransferRow>) => renderWithQueries(<TransferPanel row={row(more)} />);
const done = () => screen.getByRole('progressbar').getAttribute('aria-valuenow');
const steps = () => screen.getByTestId('sheet-9').querySelectorAll('li');

test('the gauge shows what was acknowledged, and all of it once it has arrived', () => {
  const { unmount } = show();
  expect(done()).toBe('25');
  unmount();
  const { unmount: again } = show({ progress: null });
  expect(done()).toBe('0');
  again();
  show({ state: 'done', endedAt: '2026-11-28T11:00:00.000Z', progress: null });
  expect(done()).toBe('100');
});

test('it can be given up while it runs, and once only', async () => {
  const asked = serve();
  const { unmount } = show();
  fireEvent.click(screen.getByRole('button', { name: 'Give it up' }));
  await waitFor(() =>
    expect(asked).toEqual([{ method: 'DELETE', path: '/api/transfers/9', body: null }]),
  );
  unmount();
  for (const more of [{ cancelled: true }, { endedAt: '2026-11-28T11:00:00.000Z' }]) {
    const shown = show(more);
    expect(screen.queryByRole('button', { name: 'Give it up' })).toBeNull();
    shown.unmount();
  }
});

test('the sheet of the other end says what its receiving program is given', () => {
  show({ large: true, nameThere: 'DUES.D64' });
  expect(steps()[1]!.querySelector('b')!.textContent).toBe('DUES.D64');
  expect(steps()[0]!.textContent).toContain('1200');
});

test('a loader that is typed first takes the place of that step', () => {
  show({ loaderLines: 12, typingRate: 5 });
  expect(steps()[1]!.textContent).toMatch(/12[^\d].*5/);
  expect(steps()[1]!.querySelector('b')).toBeNull();
});
