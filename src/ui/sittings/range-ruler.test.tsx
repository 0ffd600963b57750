/** @jest-environment jsdom */
/** How far to read: landmarks, heads and keys change the range, and that is what is asked for. */
import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { asWritten } from '@/core/said';
import { keepSent, renderWithQueries } from '../../../tests/support/render';
import type { Sitting } from '../data/queries';
import { RangeRuler } from './range-ruler';

const landmark = (name: string, to: number) => ({ name: asWritten(name), to });
const sitting = {
  id: 7,
  station: { id: 2, form: '3.5', model: 'a drive', serial: '1' },
  preview: {
    layout: null,
    range: { from: 0, to: 79, step: 1, heads: [0, 1] },
    landmarks: [landmark('files end', 41), landmark('layout ends', 79), landmark('drive ends', 83)],
  },
} as unknown as Sitting;

beforeAll(() => {
  globalThis.ResizeObserver = class {
    observe() {}
    unobserve() {}
    disconnect() {}
  };
});

const show = () => {
  const sent = keepSent();
  renderWithQueries(<RangeRuler sitting={sitting} />);
  const go = async () => {
    fireEvent.click(within(screen.getByTestId('range')).getAllByRole('button').at(-1)!);
    await waitFor(() => expect(sent).toHaveLength(1));
    return sent[0]!;
  };
  return { sent, go };
};

test('what the first tracks propose is asked for as it stands', async () => {
  expect(await show().go()).toEqual({
    path: '/api/sittings/7',
    body: { requestedAction: 'read', range: { from: 0, to: 79, step: 1, heads: [0, 1] } },
  });
});

test('a landmark is where it ends', async () => {
  const { go } = show();
  fireEvent.click(screen.getByRole('button', { name: /files end/ }));
  expect((await go()).body).toMatchObject({ range: { from: 0, to: 41 } });
});

test('one head may be left out, and never both', async () => {
  const { go } = show();
  const [first, second] = screen.getAllByRole('checkbox');
  fireEvent.click(first!);
  fireEvent.click(second!);
  expect((await go()).body).toMatchObject({ range: { heads: [1] } });
});
