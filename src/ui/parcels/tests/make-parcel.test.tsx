/** @jest-environment jsdom */
/** A parcel is made of what was found: what is asked for, what is sent, and what stays is told. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { changesIn, renderWithQueries, serve } from '../../../../tests/support/render';
import { MakeParcel } from '../make-parcel';

const push = jest.fn();
jest.mock('next/navigation', () => ({ useRouter: () => ({ push }) }));

const field = (name: string) => document.querySelector<HTMLInputElement>(`[name="${name}"]`)!;
const type = (name: string, value: string) => fireEvent.change(field(name), { target: { value } });
const send = () => fireEvent.submit(document.querySelector('form')!);
const open = (stays = 0) => {
  renderWithQueries(<MakeParcel of={{ copies: [3, 5] }} media={2} stays={stays} />);
  fireEvent.click(screen.getByRole('button'));
};

beforeEach(() => push.mockReset());

test('for whom it is has to be said; then it is made, and the parcels are shown', async () => {
  const asked = serve({ answer: { id: 7 } });
  open();
  send();
  await waitFor(() => expect(document.getElementById('recipient-error')).not.toBeNull());
  expect(changesIn(asked)).toEqual([]);
  type('title', ' Fog logs ');
  type('recipient', 'Harbour museum');
  fireEvent.click(field('withFiles'));
  send();
  await waitFor(() => expect(push).toHaveBeenCalledWith('/parcels'));
  expect(changesIn(asked)).toEqual([
    {
      path: '/api/parcels',
      body: {
        ...{ title: 'Fog logs', recipient: 'Harbour museum', notes: '', of: { copies: [3, 5] } },
        ...{ withFlux: true, withFiles: true, acknowledgesQuarantine: false },
      },
    },
  ]);
});

test('what was found in quarantine is put in only knowingly', async () => {
  const asked = serve({ answer: { error: 'found', code: 'in-quarantine' }, status: 409 });
  open();
  type('title', 'x');
  type('recipient', 'y');
  send();
  await screen.findByRole('alert');
  send();
  await waitFor(() => expect(changesIn(asked)).toHaveLength(2));
  expect(
    changesIn(asked).map(
      ({ body }) => (body as { acknowledgesQuarantine: boolean }).acknowledgesQuarantine,
    ),
  ).toEqual([false, true]);
});

test('that more were found and stay in the house is told', async () => {
  serve();
  open(1);
  expect((await screen.findByRole('dialog')).textContent).toContain('1 medium more');
});
