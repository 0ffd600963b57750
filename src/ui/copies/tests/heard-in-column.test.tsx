/** @jest-environment jsdom */
/** The file at the cursor as a sound: what is one, when it is fetched, and what can't be heard. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { renderWithQueries } from '../../../../tests/support/render';
import { soundAt } from '../../sounds/sound-source';
import { HeardInColumn, soundOf } from '../heard-in-column';

jest.mock('../../sounds/sound-source', () => ({ soundAt: jest.fn(async () => ({ name: 'x' })) }));
jest.mock('../../sounds/sound-panel', () => ({
  PlayedSound: ({ playsAtOnce }: { playsAtOnce: boolean }) => (
    <p>{playsAtOnce ? 'sounds' : 'is silent'}</p>
  ),
}));
const fetched = soundAt as jest.Mock;
beforeEach(() => fetched.mockClear());

const file = (over: object = {}) => ({
  id: 7,
  path: 'TIDES/BELL.WAV',
  type: null,
  bytes: 900,
  ...over,
});

test.each([
  ['a file of sound by its name', file(), 'fat', '/api/files/7?listen'],
  ['another', file({ path: 'BELL.TXT' }), 'fat', null],
  ['a sample of a volume by its type', file({ type: 's' }), 'sampler', '/api/files/7?wav'],
  ['a wave of a bank', file({ type: 'wave' }), 'wavesample', '/api/files/7?wav'],
  ['a program, whatever it is called', file({ type: 'p' }), 'sampler', null],
])('%s', (_, each, filesystem, address) => expect(soundOf(each, filesystem)).toBe(address));

test('a short one is there at once and silent', async () => {
  renderWithQueries(<HeardInColumn file={file()} address="/here" />);
  await screen.findByText('is silent');
  expect(fetched).toHaveBeenCalledWith('/here', 'TIDES/BELL.WAV');
});

test('a long one is fetched when it is asked for, and heard then', async () => {
  renderWithQueries(<HeardInColumn file={file({ bytes: 5 << 20 })} address="/here" />);
  const button = screen.getByRole('button');
  expect(fetched).not.toHaveBeenCalled();
  fireEvent.keyDown(document.body, { key: ' ' });
  await screen.findByText('sounds');
  expect(fetched).toHaveBeenCalledTimes(1);
  expect(button.isConnected).toBe(false);
});

test('what is no sound after all is said in its place', async () => {
  fetched.mockRejectedValueOnce(new Error('NO FRAMES'));
  renderWithQueries(<HeardInColumn file={file()} address="/here" />);
  await waitFor(() => expect(screen.getByRole('status').textContent).toContain('NO FRAMES'));
});
