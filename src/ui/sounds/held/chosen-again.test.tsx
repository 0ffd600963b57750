/** @jest-environment jsdom */
/** What is chosen of all sounds, and whether it sounds by itself, as other questions find others. */
import { fireEvent, screen } from '@testing-library/react';
import { renderWithQueries, serve } from '../../../../tests/support/render';
import { HeldSoundsView } from './held-sounds-view';

jest.mock('../sound-panel', () => ({
  SoundPanel: ({
    item,
    playsAtOnce,
  }: {
    item: { sample: { name: string } };
    playsAtOnce: boolean;
  }) => <p>{`${item.sample.name} ${playsAtOnce ? 'sounds' : 'is silent'}`}</p>,
}));

const row = (id: number, name: string) => ({
  id,
  ...{ copyId: 3, code: 'SKP-0130', title: 'Fog signals', file: id, path: name },
  ...{ name, seconds: 0.04, rateHz: 22_050, rootNote: null, isLooped: false },
  folder: 'A / NORTH MOLE',
  pcmSha256: null,
  held: 0,
  sample: { name, file: id, rateHz: 22_050, frames: 900, rootNote: null, loops: [] },
});

beforeAll(() => {
  Element.prototype.scrollIntoView = jest.fn();
});

test('what was chosen sounds; the first of what is found by other words waits to be chosen', async () => {
  const answer = (rows: object[]) => ({
    total: { sounds: rows.length, media: 1 },
    rates: [],
    isAll: true,
    rows,
  });
  const [low, bell, gull] = [row(1, 'HORN LOW'), row(2, 'BELL'), row(3, 'GULL')];
  serve({ get: (path: string) => answer(path.includes('q=') ? [gull] : [low, bell]) });
  renderWithQueries(<HeldSoundsView />);
  await screen.findByText('HORN LOW is silent');
  fireEvent.click(screen.getByText('BELL'));
  await screen.findByText('BELL sounds');
  fireEvent.change(screen.getByRole('searchbox'), { target: { value: 'gull' } });
  await screen.findByText('GULL is silent');
  fireEvent.keyDown(document.body, { key: 'ArrowDown' });
  await screen.findByText('GULL sounds');
});
