/** @jest-environment jsdom */
/** The sounds of everything kept: what is asked, what is chosen by keys, and where each leads. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { changesIn, renderWithQueries, serve } from '../../../../tests/support/render';
import type { HeldSounds } from '../../data/queries';
import { HeldSoundsView } from './held-sounds-view';
import { heardFile, heardSample } from '../sound-source';

jest.mock('../sound-source', () => ({
  ...jest.requireActual('../sound-source'),
  heardFile: jest.fn(async () => {
    throw new Error('is none');
  }),
  heardSample: jest.fn(async () => {
    throw new Error('its bytes are damaged');
  }),
}));

const PCM = 'a'.repeat(64);
const row = (id: number, name: string, over: object = {}) => ({
  id,
  ...{ copyId: 3, code: 'SKP-0130', title: 'Fog signals', file: 70 + id, path: name },
  ...{ name, seconds: 0.5, rateHz: 22_050, rootNote: 60, isLooped: false },
  folder: 'A / NORTH MOLE',
  pcmSha256: PCM,
  held: 1,
  sample: {
    name,
    file: 70 + id,
    position: id,
    path: `A/NORTH MOLE/${name}`,
    rateHz: 22_050,
    rateAssumed: false,
    rootNote: 60,
    cents: 0,
    bits: 16,
    channels: 1,
    frames: 11_025,
    headerBytes: 150,
    start: 0,
    end: 11_024,
    loops: [],
    playback: 'no-loop',
    problems: [],
    doubts: [],
  },
  ...over,
});
const answer = (rows: object[], over: object = {}) =>
  ({
    total: { sounds: rows.length, media: 1 },
    rates: [{ rateHz: 22_050, sounds: 2 }],
    isAll: true,
    rows,
    ...over,
  }) as unknown as HeldSounds;

beforeAll(() => {
  Element.prototype.scrollIntoView = jest.fn();
});

const asked = (paths: readonly { path: string }[]) => paths.map(({ path }) => path).at(-1);
const heardNames = () =>
  (heardSample as jest.Mock).mock.calls.map(([{ name }]: [{ name: string }]) => name);

test('what is asked for goes into the address of the question, and starts the list anew', async () => {
  const paths = serve({ get: () => answer([row(1, 'HORN LOW')], { isAll: false }) });
  renderWithQueries(<HeldSoundsView />);
  await screen.findByText('1 sound on 1 medium');
  fireEvent.click(screen.getByText('More of them'));
  await waitFor(() => expect(asked(paths)).toBe('/api/sounds?more=1'));
  fireEvent.change(screen.getByRole('searchbox'), { target: { value: 'horn' } });
  await waitFor(() => expect(asked(paths)).toBe('/api/sounds?q=horn'));
  fireEvent.change(screen.getByLabelText('Seconds, from'), { target: { value: '0.5 s' } });
  fireEvent.change(screen.getByLabelText('Rate'), { target: { value: '22050' } });
  fireEvent.click(screen.getByLabelText('Held more than once'));
  await waitFor(() =>
    expect(asked(paths)).toBe('/api/sounds?q=horn&atLeast=0.5&rate=22050&twice=yes'),
  );
});

test('the first is there and silent; the arrows go through them, and each is fetched to be heard', async () => {
  serve({ get: () => answer([row(1, 'HORN LOW'), row(2, 'BELL')]) });
  renderWithQueries(<HeldSoundsView />);
  const chosen = () => document.querySelector('tr[aria-selected=true]')!.getAttribute('data-sound');
  await screen.findByRole('heading', { name: 'HORN LOW' });
  expect(chosen()).toBe('1');
  fireEvent.keyDown(document.body, { key: 'ArrowDown' });
  expect(chosen()).toBe('1');
  fireEvent.keyDown(document.body, { key: 'ArrowDown' });
  await screen.findByRole('heading', { name: 'BELL' });
  expect(chosen()).toBe('2');
  await waitFor(() => expect(heardNames()).toContain('BELL'));
  // What can't be heard says why, and where it lies.
  await screen.findByText("It can't be heard: its bytes are damaged");
  expect(screen.getByRole('link', { name: /^Among the others/ })).toHaveProperty(
    'href',
    expect.stringMatching(/\/media\/SKP-0130\/sounds\?file=72$/),
  );
});

test('one that is held elsewhere too leads to all that are the same', async () => {
  const paths = serve({ get: () => answer([row(1, 'HORN LOW', { held: 3 }), row(2, 'BELL')]) });
  renderWithQueries(<HeldSoundsView />);
  fireEvent.click(await screen.findByText('3 times'));
  await waitFor(() => expect(asked(paths)).toBe(`/api/sounds?pcm=${PCM}`));
  fireEvent.click(screen.getByText('All sounds again'));
  await waitFor(() => expect(screen.queryByText('All sounds again')).toBeNull());
});

test('where nothing answers, and where nothing is held, different things are said', async () => {
  serve({ get: () => answer([]) });
  renderWithQueries(<HeldSoundsView />);
  await screen.findByText(/^No sampler volume, wavesample floppy/);
  fireEvent.change(screen.getByRole('searchbox'), { target: { value: 'gull' } });
  await screen.findByText(/^No sound answers to that/);
});

test('a file that is a sound itself is heard by its path, and has no samples to take out', async () => {
  serve({ get: () => answer([row(1, 'BELL.WAV', { sample: null, path: 'TIDES/BELL.WAV' })]) });
  renderWithQueries(<HeldSoundsView />);
  await screen.findByRole('heading', { name: 'TIDES/BELL.WAV' });
  await screen.findByText("It can't be heard: is none");
  expect(heardFile).toHaveBeenCalledWith(71, 'TIDES/BELL.WAV');
  expect(screen.queryByText('Take the sounds out')).toBeNull();
});

test('what is found is taken out by what was asked, of however many media', async () => {
  const rows = [row(1, 'HORN LOW'), row(2, 'BELL.WAV', { sample: null })];
  const paths = serve({
    get: (path: string) => (path.startsWith('/api/extracts') ? [] : answer(rows)),
    answer: { id: 4 },
  });
  renderWithQueries(<HeldSoundsView />);
  await screen.findByRole('heading', { name: 'HORN LOW' });
  fireEvent.change(screen.getByRole('searchbox'), { target: { value: 'horn' } });
  fireEvent.click(screen.getByLabelText('the same sound once'));
  await waitFor(() => expect(asked(paths)).toBe('/api/sounds?q=horn'));
  fireEvent.click(screen.getByText('Take the sounds out'));
  await waitFor(() => expect(changesIn(paths)).toHaveLength(1));
  expect(changesIn(paths)).toEqual([
    { path: '/api/sounds', body: { question: { q: 'horn' }, packed: false, once: true } },
  ]);
  // What is left where it is, is told.
  await screen.findByText(/leave as files do/);
});
