/** @jest-environment jsdom */
/** A card: its images in their order, its names, and what a card that comes back has changed. */
import { createHash, webcrypto } from 'node:crypto';
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { changesIn, renderWithQueries, serve } from '../../../tests/support/render';
import { MemoryCardsView } from './memory-cards-view';

const image = (id: number) => ({ id, code: `TST-000${id}`, title: `Disk ${id}`, bytes: 1000 * id });
const CARD = {
  id: 5,
  title: 'Reading room',
  profile: 'short',
  who: 'Ada',
  madeAt: '2026-11-28T10:00:00.000Z',
  images: [
    {
      copyId: 1,
      kind: 'img',
      sha256: 'a',
      code: 'TST-0001',
      title: 'Disk 1',
      bytes: 1000,
      number: 0,
      path: 'DISK1.IMG',
    },
    {
      copyId: 2,
      kind: 'img',
      sha256: 'b',
      code: 'TST-0002',
      title: 'Disk 2',
      bytes: 2000,
      number: 1,
      path: 'DISK2.IMG',
    },
  ],
};
const withCards = (cards: unknown[]) => (path: string) =>
  path.startsWith('/api/holdings') ? { copies: [1, 2, 3].map(image) } : cards;

const search = async () => {
  fireEvent.change(screen.getByTestId('card-search'), { target: { value: 'disk' } });
  await waitFor(() =>
    expect(screen.getByTestId('card-found').querySelectorAll('button').length).toBeGreaterThan(0),
  );
};
const chosen = () =>
  [...screen.getByTestId('card-chosen').querySelectorAll('li')].map(
    (item) => item.querySelector('b')!.textContent,
  );
const found = () =>
  [...screen.getByTestId('card-found').querySelectorAll('b')].map(({ textContent }) => textContent);
const take = (code: string) =>
  fireEvent.click(
    [...screen.getByTestId('card-found').querySelectorAll('button')].find((each) =>
      each.textContent!.startsWith(code),
    )!,
  );
const makeButton = () => screen.getByRole<HTMLButtonElement>('button', { name: 'Make the card' });

test('images are chosen in their order, and what is chosen is found no more', async () => {
  serve({ get: withCards([]) });
  renderWithQueries(<MemoryCardsView />);
  expect(makeButton().disabled).toBe(true);
  await search();
  take('TST-0002');
  take('TST-0001');
  expect([chosen(), found()]).toEqual([['TST-0002', 'TST-0001'], ['TST-0003']]);
  fireEvent.click(screen.getByRole('button', { name: /TST-0002/ }));
  expect(chosen()).toEqual(['TST-0001']);
});

test('a card is made of them, and the form is free for the next', async () => {
  const sent = serve({ get: withCards([]) });
  renderWithQueries(<MemoryCardsView />);
  await search();
  fireEvent.click(screen.getByRole('button', { name: /^Take all 3/ }));
  fireEvent.change(screen.getByTestId('card-title'), { target: { value: 'Reading room' } });
  fireEvent.click(makeButton());
  await waitFor(() => expect(chosen()).toEqual([]));
  expect(changesIn(sent)).toEqual([
    {
      path: '/api/memory-cards',
      body: {
        title: 'Reading room',
        profile: 'short',
        kind: null,
        settingsName: '',
        template: '',
        copies: [1, 2, 3],
      },
    },
  ]);
});

test('what is refused keeps what was chosen', async () => {
  serve({
    get: withCards([]),
    answer: { error: 'Say what the card is.', fields: { title: 'Say what the card is.' } },
    status: 422,
  });
  renderWithQueries(<MemoryCardsView />);
  await search();
  take('TST-0001');
  fireEvent.click(makeButton());
  expect((await screen.findByRole('alert')).textContent).toBe('Say what the card is.');
  expect(chosen()).toEqual(['TST-0001']);
});

test('a card that comes back is hashed here and held against what was put on it', async () => {
  Object.defineProperty(globalThis, 'crypto', { value: webcrypto, configurable: true });
  const bytes = new TextEncoder().encode('changed over there');
  const sent = serve({
    get: withCards([CARD]),
    answer: [
      { path: 'DISK1.IMG', bytes: 18, sha256: 'x', change: 'changed', code: 'TST-0001' },
      { path: 'DISK2.IMG', bytes: 2000, sha256: 'b', change: 'same', code: 'TST-0002' },
      { path: 'SAVE.DAT', bytes: 9, sha256: 'y', change: 'new', code: null },
    ],
  });
  renderWithQueries(<MemoryCardsView />);
  await screen.findByTestId('card-5');
  const file = new File([bytes], 'DISK1.IMG');
  Object.defineProperty(file, 'webkitRelativePath', { value: 'card/DISK1.IMG' });
  Object.defineProperty(file, 'arrayBuffer', { value: async () => bytes.buffer });
  fireEvent.change(screen.getByTestId('come-back-5'), { target: { files: [file] } });
  const compared = await screen.findByTestId('compared-5');
  expect(changesIn(sent)).toEqual([
    {
      path: '/api/memory-cards/5/compare',
      body: {
        files: [
          {
            path: 'DISK1.IMG',
            bytes: 18,
            sha256: createHash('sha256').update(bytes).digest('hex'),
          },
        ],
      },
    },
  ]);
  expect(compared.textContent).toContain('DISK1.IMG');
  expect(compared.textContent).toContain('SAVE.DAT');
  expect(compared.textContent).not.toContain('DISK2.IMG');
  expect(screen.getAllByRole('button', { name: 'Take it in' })).toHaveLength(2);
});
