/** @jest-environment jsdom */
/** Layouts: those that ship stay, those added here can be removed, a file of one is taken in. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { changesIn, renderWithQueries, serve } from '../../../tests/support/render';
import { LayoutsView } from './layouts-view';

const layout = (id: string, ships: boolean) => ({
  id,
  title: ships ? '' : 'Added here',
  forms: ['3.5'],
  describes: '3½-inch, 9 sectors of 512 bytes',
  sectors: 1440,
  bytes: 737_280,
  kinds: ['img'],
  ships,
});

const LAYOUTS = [layout('mfm-35-9x512', true), layout('own/1', false)];
const fileOf = (text: string) => {
  const file = new File([text], 'own.json');
  Object.defineProperty(file, 'text', { value: async () => text });
  return file;
};
const choose = (text: string) =>
  fireEvent.change(screen.getByTestId('layout-file'), { target: { files: [fileOf(text)] } });

test('each is handed out; only those added here can be removed', async () => {
  const asked = serve({ get: LAYOUTS, answer: { id: 'own' } });
  renderWithQueries(<LayoutsView />);
  await screen.findByText('own/1');
  expect(screen.getAllByRole('link').map((link) => link.getAttribute('href'))).toEqual([
    '/api/layouts/mfm-35-9x512',
    '/api/layouts/own%2F1',
  ]);
  const [remove, ...others] = screen.getAllByRole('button', { name: 'Remove' });
  expect(others).toEqual([]);
  fireEvent.click(remove!);
  await waitFor(() =>
    expect(asked).toContainEqual({
      method: 'DELETE',
      path: '/api/layouts/own%2F1',
      body: null,
    }),
  );
});

test('a file is taken in by choosing it or by dropping it, and its id is said', async () => {
  const asked = serve({ get: LAYOUTS, answer: { id: 'own' } });
  renderWithQueries(<LayoutsView />);
  const row = await screen.findByText('own/1');
  choose('{"id":"own"}');
  await waitFor(() => expect(asked.some(({ method }) => method === 'POST')).toBe(true));
  await screen.findByText('own', { selector: 'b' });
  fireEvent.drop(row, { dataTransfer: { files: [fileOf('{"id":"own"}')] } });
  await waitFor(() => expect(asked.filter(({ method }) => method === 'POST')).toHaveLength(2));
});

test('what is no JSON is not sent; what is refused is said as the server says it', async () => {
  const asked = serve({ get: LAYOUTS });
  const { unmount } = renderWithQueries(<LayoutsView />);
  choose('layout?');
  expect((await screen.findByRole('alert')).textContent).toContain('own.json');
  expect(changesIn(asked)).toEqual([]);
  unmount();
  serve({ get: LAYOUTS, answer: { error: 'Two sectors have one number.' }, status: 422 });
  renderWithQueries(<LayoutsView />);
  choose('{}');
  expect((await screen.findByRole('alert')).textContent).toBe('Two sectors have one number.');
});
