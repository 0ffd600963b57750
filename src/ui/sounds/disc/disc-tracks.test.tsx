/** @jest-environment jsdom */
/** Tracks of sound: played one behind the other, fetched with their pre-emphasis and without. */
import { fireEvent, render, screen, waitFor } from '@testing-library/react';
import type { DiscTrack } from '@/core/optical/disc-tracks';
import { DiscTracks } from './disc-tracks';

const track = (number: number, fileSector: number, sectors: number): DiscTrack => ({
  ...{ number, fileSector, sectors, type: 'AUDIO', startLba: fileSector },
  ...{ file: 0, pregapSectors: 0 },
});
const DISC: DiscTrack[] = [
  { ...track(1, 0, 750), type: 'MODE1/2352' },
  { ...track(2, 750, 4645), indexes: [75] },
  { ...track(3, 5545, 375), flags: ['PRE'] },
];

const links = () => screen.getAllByRole('link').map((link) => link.getAttribute('href'));
const audio = () => document.querySelector('audio')!;
const place = () => screen.getByTestId('disc-place').textContent;

const show = (disc: readonly DiscTrack[] = DISC, hasCursor = true) =>
  render(<DiscTracks copyId={7} disc={disc} hasCursor={hasCursor} />);

let playing: jest.SpyInstance;
beforeEach(() => {
  playing = jest.spyOn(HTMLMediaElement.prototype, 'play').mockResolvedValue(undefined);
});
afterEach(() => playing.mockRestore());

test('of a disc without sound nothing is shown', () => {
  expect(show(DISC.slice(0, 1)).container.childElementCount).toBe(0);
});

test('each is fetched as it is recorded, until its pre-emphasis is to be taken out', () => {
  show();
  const own = '/api/copies/7/sound?track=';
  expect([links(), audio().getAttribute('src')]).toEqual([
    [`${own}2`, `${own}3`],
    `${own}2&through`,
  ]);
  fireEvent.click(screen.getByRole('checkbox'));
  expect([links(), audio().getAttribute('src')]).toEqual([
    [`${own}2`, `${own}3&pre-emphasis=out`],
    `${own}2&through&pre-emphasis=out`,
  ]);
});

test('where no track has any, nothing is asked', () => {
  show(DISC.slice(0, 2));
  expect(screen.queryByRole('checkbox')).toBeNull();
});

test('a track is heard from its beginning, by its row or by the keys; the gap before it counts down', () => {
  show();
  fireEvent.click(screen.getByRole('button', { name: /3/ }));
  expect([audio().currentTime, playing.mock.calls.length]).toEqual([(4645 + 150) / 75, 1]);
  expect(place()).toMatch(/3.*1.*0:00/);
  audio().currentTime = (4645 + 75) / 75;
  fireEvent.timeUpdate(audio());
  expect(place()).toMatch(/3.*0.*−0:01/);
  fireEvent.keyDown(document.body, { key: 'ArrowUp' });
  expect([audio().currentTime, playing.mock.calls.length]).toEqual([0, 2]);
});

test('with its treble let down it goes on where it was', async () => {
  show();
  fireEvent.click(screen.getByRole('button', { name: /3/ }));
  fireEvent.play(audio());
  const at = audio().currentTime;
  // What another address does to a player: it is at the beginning, and still.
  fireEvent.click(screen.getByRole('checkbox'));
  audio().currentTime = 0;
  fireEvent.pause(audio());
  await waitFor(() => expect(playing).toHaveBeenCalledTimes(2));
  expect(audio().currentTime).toBe(at);
});

test('where a list of sounds has the cursor its keys are left to it', () => {
  show(DISC, false);
  fireEvent.keyDown(document.body, { key: 'ArrowDown' });
  expect(playing).not.toHaveBeenCalled();
});

test('a track behind one of data is another run, with an address of its own', async () => {
  show([...DISC, { ...track(4, 5920, 75), type: 'MODE1/2352' }, track(5, 5995, 75)]);
  fireEvent.click(screen.getByRole('button', { name: /5/ }));
  await waitFor(() => expect(playing).toHaveBeenCalledTimes(1));
  expect(audio().getAttribute('src')).toBe('/api/copies/7/sound?track=5&through');
  expect(place()).toMatch(/5.*1.*0:00/);
});
