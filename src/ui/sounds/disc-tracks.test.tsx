/** @jest-environment jsdom */
/** Tracks of sound: where each is heard and fetched, with its pre-emphasis and without. */
import { fireEvent, render, screen } from '@testing-library/react';
import { DiscTracks } from './disc-tracks';

const TRACKS = [
  { number: 2, seconds: 61.9, hasPreEmphasis: false },
  { number: 3, seconds: 5, hasPreEmphasis: true },
];

const links = () => screen.getAllByRole('link').map((link) => link.getAttribute('href'));
const players = () =>
  [...document.querySelectorAll('audio')].map((player) => player.getAttribute('src'));

test('of a disc without sound nothing is shown', () => {
  const { container } = render(<DiscTracks copyId={7} tracks={[]} />);
  expect(container.childElementCount).toBe(0);
});

test('each is heard and fetched as it is recorded, until its pre-emphasis is to be taken out', () => {
  render(<DiscTracks copyId={7} tracks={TRACKS} />);
  const plain = ['/api/copies/7/sound?track=2', '/api/copies/7/sound?track=3'];
  expect([links(), players()]).toEqual([plain, plain]);
  fireEvent.click(screen.getByRole('checkbox'));
  const flat = [plain[0], `${plain[1]}&pre-emphasis=out`];
  expect([links(), players()]).toEqual([flat, flat]);
  fireEvent.click(screen.getByRole('checkbox'));
  expect(links()).toEqual(plain);
});

test('where no track has any, nothing is asked', () => {
  render(<DiscTracks copyId={7} tracks={TRACKS.slice(0, 1)} />);
  expect(screen.queryByRole('checkbox')).toBeNull();
  expect(screen.getByRole('listitem').textContent).toContain('1:01');
});
