/** @jest-environment jsdom */
/** A folder is opened and closed by one button, and says where it is and who opened it. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { say } from '@/messages';
import { changesIn, renderWithQueries, serve } from '../../../tests/support/render';
import { FolderSwitch } from './folder-switch';

const OPEN = {
  ...{ address: 'http://127.0.0.1:4719/SKP-1/', who: 'Tam Okoro' },
  ...{ openedAt: '2026-12-01T08:00:00.000Z', isOfLot: false },
};
const press = (name: string) => fireEvent.click(screen.getByRole('button', { name }));

test('what is closed is opened', async () => {
  const sent = serve();
  renderWithQueries(<FolderSwitch of={{ code: 'SKP-1' }} folder={null} />);
  expect(screen.queryByRole('link')).toBeNull();
  press(say.folders.open);
  await waitFor(() =>
    expect(changesIn(sent)).toEqual([
      { path: '/api/folders', body: { of: { code: 'SKP-1' }, isOpen: true } },
    ]),
  );
});

test('what is open has an address, and is closed', async () => {
  const sent = serve();
  renderWithQueries(<FolderSwitch of={{ lot: 'lot 2' }} folder={{ ...OPEN, isOfLot: true }} />);
  expect(screen.getByRole('link').getAttribute('href')).toBe(OPEN.address);
  press(say.folders.close);
  await waitFor(() =>
    expect(changesIn(sent)).toEqual([
      { path: '/api/folders', body: { of: { lot: 'lot 2' }, isOpen: false } },
    ]),
  );
});

test('what its lot opened is not closed at one medium', () => {
  renderWithQueries(<FolderSwitch of={{ code: 'SKP-1' }} folder={{ ...OPEN, isOfLot: true }} />);
  expect(screen.queryByRole('button')).toBeNull();
  expect(screen.getByTestId('folder').textContent).toContain(say.folders.withItsLot);
});

test('what is refused is told', async () => {
  serve({ answer: { error: 'FALSE NEWS' }, status: 403 });
  renderWithQueries(<FolderSwitch of={{ code: 'SKP-1' }} folder={null} />);
  press(say.folders.open);
  await waitFor(() => expect(screen.getByRole('alert').textContent).toContain('FALSE NEWS'));
});
