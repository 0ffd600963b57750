/** @jest-environment jsdom */
/** Taking the sounds of a medium out: what is asked of the server, and what is told of it. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { changesIn, renderWithQueries, serve } from '../../../tests/support/render';
import { SheetLinks, TakeProgramOut, TakeSoundsOut, useSoundsOut } from './take-sounds-out';

const take = () => fireEvent.click(screen.getByText('Take the sounds out'));

/** As the page has them. */
function Out({ begun }: { begun: () => void }) {
  const out = useSoundsOut(12, begun);
  return (
    <>
      <TakeSoundsOut {...out} />
      <TakeProgramOut file={77} {...out} />
    </>
  );
}

test.each([
  [[], { packed: false, once: false }],
  [['packed as FLAC'], { packed: true, once: false }],
  [['the same sound once'], { packed: false, once: true }],
  [['packed as FLAC', 'the same sound once'], { packed: true, once: true }],
])('all of them, %j', async (chosen, how) => {
  const asked = serve({ answer: { id: 1 } });
  const begun = jest.fn();
  renderWithQueries(<Out begun={begun} />);
  for (const each of chosen) fireEvent.click(screen.getByLabelText(each));
  take();
  await waitFor(() => expect(begun).toHaveBeenCalledTimes(1));
  expect(changesIn(asked)).toEqual([
    { path: '/api/extracts', body: { copies: [12], what: 'sounds', ...how, only: null } },
  ]);
});

test('a program alone, as all the others are taken', async () => {
  const asked = serve({ answer: { id: 1 } });
  const begun = jest.fn();
  renderWithQueries(<Out begun={begun} />);
  fireEvent.click(screen.getByLabelText('packed as FLAC'));
  fireEvent.click(screen.getByText('Take it out with its samples'));
  await waitFor(() => expect(begun).toHaveBeenCalledTimes(1));
  expect(changesIn(asked)[0]!.body).toMatchObject({ packed: true, only: [77] });
});

test('what is refused is told, and can be asked for otherwise', async () => {
  const error = 'FALSE NEWS';
  serve({ answer: { error }, status: 409 });
  const begun = jest.fn();
  renderWithQueries(<Out begun={begun} />);
  take();
  expect((await screen.findByRole('alert')).textContent).toContain(error);
  expect(begun).not.toHaveBeenCalled();
  const asked = serve({ answer: { id: 1 } });
  fireEvent.click(screen.getByLabelText('packed as FLAC'));
  take();
  await waitFor(() => expect(begun).toHaveBeenCalledTimes(1));
  expect(changesIn(asked)[0]!.body).toMatchObject({ packed: true });
});

test('the sheet is there in both kinds, and to print', () => {
  renderWithQueries(<SheetLinks copyId={12} code="A/1" />);
  expect(screen.getAllByRole('link').map((link) => link.getAttribute('href'))).toEqual([
    ...['csv', 'json'].map((kind) => `/api/copies/12/sounds?sheet=${kind}`),
    '/media/A%2F1/sounds/sheet',
  ]);
});
