/** @jest-environment jsdom */
/** A medium goes out of use and comes back: what is sent, what is refused, what is seen before. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { changesIn, renderWithQueries, serve } from '../../../../tests/support/render';
import type { DocketData } from '../../data/queries';
import { WithdrawLink, WithdrawnNote } from './use-dialog';

const push = jest.fn();
jest.mock('next/navigation', () => ({ useRouter: () => ({ push }) }));

const medium = (more: object = {}) =>
  ({
    code: '2024/017/3',
    title: 'Lamp rota',
    withdrawnAt: null,
    withdrawnReason: '',
    isBlank: false,
    isReference: false,
    ...more,
  }) as DocketData['medium'];
const field = (name: string) => document.querySelector<HTMLInputElement>(`[name="${name}"]`)!;
const type = (name: string, value: string) => fireEvent.change(field(name), { target: { value } });
const open = (more: object = {}) => {
  renderWithQueries(<WithdrawLink medium={medium(more)} />);
  fireEvent.click(screen.getByRole('button'));
};
const send = () => fireEvent.submit(document.querySelector('form')!);
const choose = (action: string) =>
  fireEvent.click(document.querySelector(`[type=radio][value=${action}]`)!);

beforeEach(() => push.mockReset());

test('it is withdrawn with a reason, and without one nothing is sent', async () => {
  const asked = serve({ answer: { code: '2024/017/3' } });
  open();
  send();
  await waitFor(() => expect(document.getElementById('reason-error')).not.toBeNull());
  expect(changesIn(asked)).toEqual([]);
  type('reason', ' gone ');
  send();
  await waitFor(() =>
    expect(changesIn(asked)).toEqual([
      { path: '/api/media/2024%2F017%2F3/use', body: { action: 'withdraw', reason: 'gone' } },
    ]),
  );
  expect(push).not.toHaveBeenCalled();
});

test('the other is seen before the two become one, and its docket opens then', async () => {
  const others = { total: 1, media: [{ code: 'SKP-1', title: 'Rota', lender: 'E. W.', lot: '' }] };
  const asked = serve({ get: others, answer: { code: 'SKP-1' } });
  open();
  choose('merge');
  type('into', 'skp-1');
  expect((await screen.findByTestId('the-other')).textContent).toBe('SKP-1 Rota · E. W.');
  type('reason', 'two labels');
  send();
  await waitFor(() => expect(push).toHaveBeenCalledWith('/media/SKP-1'));
  expect(changesIn(asked)).toEqual([
    {
      path: '/api/media/2024%2F017%2F3/use',
      body: { action: 'merge', reason: 'two labels', into: 'SKP-1' },
    },
  ]);
});

test('a blank can’t be another', () => {
  open({ isBlank: true });
  expect(document.querySelectorAll('[type=radio]')).toHaveLength(0);
});

test('what is withdrawn says why, and comes back with a reason', async () => {
  const asked = serve({ answer: { code: '2024/017/3' } });
  const withdrawn = { withdrawnAt: '2026-11-30T10:00:00Z', withdrawnReason: 'lent on' };
  renderWithQueries(<WithdrawnNote medium={medium(withdrawn)} />);
  expect(screen.getByTestId('withdrawn').textContent).toContain('lent on');
  fireEvent.click(screen.getByRole('button'));
  type('reason', 'came back');
  send();
  await waitFor(() =>
    expect(changesIn(asked)).toEqual([
      { path: '/api/media/2024%2F017%2F3/use', body: { action: 'reinstate', reason: 'came back' } },
    ]),
  );
});

test('what is in use says nothing of it', () => {
  renderWithQueries(<WithdrawnNote medium={medium()} />);
  expect(screen.queryByTestId('withdrawn')).toBeNull();
});
