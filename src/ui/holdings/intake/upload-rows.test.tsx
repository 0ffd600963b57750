/** @jest-environment jsdom */
/** Files on their way in: small ones are not shown, what comes can be given up. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { renderWithQueries, serve } from '../../../../tests/support/render';
import { UploadRows } from './upload-rows';

const upload = (id: string, state: string, size: number) => ({
  id,
  name: `${id}.img`,
  size,
  state,
  now: `now ${id}`,
});
const LARGE = 100 << 20;
const names = () => [...document.querySelectorAll('li b')].map(({ textContent }) => textContent);

test('what comes is shown, and what takes long; what is over or small is not', async () => {
  serve({
    get: [
      upload('coming', 'coming', 10),
      upload('small', 'taking-in', 10),
      upload('large', 'taking-in', LARGE),
      upload('waits', 'waiting', LARGE),
      upload('done', 'done', LARGE),
      upload('refused', 'refused', LARGE),
    ],
  });
  renderWithQueries(<UploadRows />);
  await screen.findByTestId('uploads');
  expect(names()).toEqual(['coming.img', 'large.img', 'waits.img']);
});

test('only what comes can be given up', async () => {
  const asked = serve({ get: [upload('a', 'coming', LARGE), upload('b', 'taking-in', LARGE)] });
  renderWithQueries(<UploadRows />);
  await screen.findByTestId('uploads');
  const [button, ...others] = screen.getAllByRole('button');
  expect(others).toEqual([]);
  fireEvent.click(button!);
  await waitFor(() =>
    expect(asked).toContainEqual({ method: 'DELETE', path: '/api/uploads/a', body: null }),
  );
});

test('without any there is nothing', async () => {
  const asked = serve({ get: [upload('done', 'done', LARGE)] });
  const { container } = renderWithQueries(<UploadRows />);
  await waitFor(() => expect(asked).toHaveLength(1));
  expect(container.innerHTML).toBe('');
});
