/** @jest-environment jsdom */
/** Taking the sounds of a medium out: what is asked of the server, and what is told of it. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { changesIn, renderWithQueries, serve } from '../../../tests/support/render';
import { SheetLinks, TakeSoundsOut } from './take-sounds-out';

const take = () => fireEvent.click(screen.getByRole('button'));

test.each([false, true])('as WAV, or packed: %p', async (packed) => {
  const asked = serve({ answer: { id: 1 } });
  const begun = jest.fn();
  renderWithQueries(<TakeSoundsOut copyId={12} wasBegun={begun} />);
  if (packed) fireEvent.click(screen.getByRole('checkbox'));
  take();
  await waitFor(() => expect(begun).toHaveBeenCalledTimes(1));
  expect(changesIn(asked)).toEqual([
    { path: '/api/extracts', body: { copies: [12], what: 'sounds', packed } },
  ]);
});

test('what is refused is told, and can be asked for otherwise', async () => {
  const error = 'FALSE NEWS';
  serve({ answer: { error }, status: 409 });
  const begun = jest.fn();
  renderWithQueries(<TakeSoundsOut copyId={12} wasBegun={begun} />);
  take();
  expect((await screen.findByRole('alert')).textContent).toContain(error);
  expect(begun).not.toHaveBeenCalled();
  const asked = serve({ answer: { id: 1 } });
  fireEvent.click(screen.getByRole('checkbox'));
  take();
  await waitFor(() => expect(begun).toHaveBeenCalledTimes(1));
  expect(changesIn(asked)[0]!.body).toMatchObject({ packed: true });
});

test('the sheet is there in both kinds', () => {
  renderWithQueries(<SheetLinks copyId={12} />);
  expect(screen.getAllByRole('link').map((link) => link.getAttribute('href'))).toEqual(
    ['csv', 'json'].map((kind) => `/api/copies/12/sounds?sheet=${kind}`),
  );
});
