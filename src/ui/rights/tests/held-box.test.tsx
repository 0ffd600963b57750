/** @jest-environment jsdom */
/* eslint-disable @next/next/no-html-link-for-pages -- what a route gives is saved, not a page */
/** A medium that stays in the house: nothing of it is fetched before it is said to whom and why. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { changesIn, renderWithQueries, serve } from '../../../../tests/support/render';
import type { DocketData } from '../../data/queries';
import { Held } from '../held-box';

type Holds = DocketData['holds'];
const HOLD: Holds[number] = {
  ...{ mediumId: 1, code: 'MS 12/B', from: 'lot', name: 'Tin box' },
  ...{ reason: 'by agreement', opensOn: '2041-01-01', isPersonal: false },
};

const followed = jest.fn();
const show = (holds: Holds) =>
  renderWithQueries(
    <Held medium={{ code: 'MS 12/B', title: 'Rota' }} holds={holds} head={<h1>Rota</h1>}>
      <a
        href="/api/copies/1/image"
        onClick={(event) => {
          event.preventDefault();
          followed();
        }}
      >
        image
      </a>
      <a
        href="#papers"
        onClick={(event) => {
          event.preventDefault();
          followed();
        }}
      >
        papers
      </a>
    </Held>,
  );
const press = (name: string) => fireEvent.click(screen.getByRole('link', { name }));
const type = (name: string, value: string) =>
  fireEvent.change(document.querySelector(`[name="${name}"]`)!, { target: { value } });

beforeEach(() => followed.mockReset());

test('what is not held is fetched as ever, and nobody is asked', () => {
  serve();
  show([]);
  press('image');
  expect([followed.mock.calls.length, screen.queryByTestId('held')]).toEqual([1, null]);
  expect(screen.queryByRole('dialog')).toBeNull();
});

test('of what is held a download asks to whom and why first; other links lead on', async () => {
  const asked = serve({ get: { recipient: null } });
  show([HOLD]);
  expect(screen.getByTestId('held').textContent).toContain('2041-01-01');
  expect(screen.getByTestId('held').textContent).toContain('Tin box');
  press('papers');
  expect(screen.queryByRole('dialog')).toBeNull();
  press('image');
  await screen.findByRole('dialog');
  fireEvent.submit(document.querySelector('form')!);
  await waitFor(() => expect(document.getElementById('recipient-error')).not.toBeNull());
  expect(changesIn(asked)).toEqual([]);
});

test('once it is said, it goes into the ledger and the dialog closes', async () => {
  const asked = serve({ get: { recipient: null } });
  show([HOLD]);
  fireEvent.click(await screen.findByRole('button'));
  type('recipient', 'R. Heron');
  type('reason', 'the giver agreed');
  fireEvent.submit(document.querySelector('form')!);
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  expect(changesIn(asked)).toEqual([
    {
      path: '/api/permits/MS%2012%2FB',
      body: { recipient: 'R. Heron', reason: 'the giver agreed' },
    },
  ]);
});

test('whoever may hand it out is told to whom, and asked no more', async () => {
  serve({ get: { recipient: 'R. Heron' } });
  show([HOLD]);
  await waitFor(() => expect(screen.getByTestId('held').textContent).toContain('R. Heron'));
  press('image');
  expect(followed).toHaveBeenCalled();
  expect(screen.queryByRole('dialog')).toBeNull();
});
