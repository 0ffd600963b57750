/** @jest-environment jsdom */
/** What may be done with something, said in a form: what is sent, and what is refused before. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { changesIn, renderWithQueries, serve } from '../../../../tests/support/render';
import { NO_RIGHTS_SAID, type Rights } from '@/core/description/rights';
import { RightsDialog } from '../rights-dialog';

const NC = 'https://creativecommons.org/licenses/by-nc/4.0/';
const RESTRICTED: Rights = {
  ...{ statement: 'https://example.org/terms', words: 'ask first', isPersonal: true },
  restriction: { reason: 'by agreement', opensOn: '2041-01-01' },
};
const onClose = jest.fn();
const open = (own: Rights | null) =>
  renderWithQueries(<RightsDialog open kind="lots" name="Tin box/2" own={own} onClose={onClose} />);
const field = (name: string) => document.querySelector<HTMLInputElement>(`[name="${name}"]`);
const type = (name: string, value: string) => fireEvent.change(field(name)!, { target: { value } });
const send = () => fireEvent.submit(document.querySelector('form')!);
const PATH = '/api/rights/lots/Tin%20box%2F2';

beforeEach(() => onClose.mockReset());

test('a statement that is offered, and a day: what is hidden is not asked for', async () => {
  const asked = serve();
  open(null);
  expect([field('statement'), field('reason')]).toEqual([null, null]);
  type('chosen', NC);
  fireEvent.click(field('isRestricted')!);
  send();
  await waitFor(() => expect(document.getElementById('reason-error')).not.toBeNull());
  expect(changesIn(asked)).toEqual([]);
  type('reason', ' as the giver asked ');
  type('opensOn', '2031-05-01');
  send();
  const restriction = { reason: 'as the giver asked', opensOn: '2031-05-01' };
  const body = { ...NO_RIGHTS_SAID, statement: NC, restriction };
  await waitFor(() => expect(changesIn(asked)).toEqual([{ path: PATH, body }]));
  await waitFor(() => expect(onClose).toHaveBeenCalled());
});

test('what is said stands there, another statement by its address, and is taken away', async () => {
  const asked = serve();
  open(RESTRICTED);
  expect([field('chosen')!.value, field('statement')!.value]).toEqual([
    'other',
    'https://example.org/terms',
  ]);
  type('statement', 'no address');
  send();
  await waitFor(() => expect(document.getElementById('statement-error')).not.toBeNull());
  type('chosen', '');
  type('words', '');
  fireEvent.click(field('isRestricted')!);
  fireEvent.click(field('isPersonal')!);
  send();
  await waitFor(() => expect(changesIn(asked)).toEqual([{ path: PATH, body: NO_RIGHTS_SAID }]));
});

test('what the server refuses is said, and the form stays', async () => {
  serve({ answer: { error: 'No such lot.' }, status: 404 });
  open(RESTRICTED);
  send();
  expect((await screen.findByRole('alert')).textContent).toBe('No such lot.');
  expect(onClose).not.toHaveBeenCalled();
});
