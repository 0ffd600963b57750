/** @jest-environment jsdom */
/** A program under its keys: played by pointer, by letters and by notes from an instrument. */
import { act, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { listedProgram, listedRegion } from '../../../tests/support/sound/listed-program';
import type { Player } from './player';
import type { ListedProgram } from './program-voices';
import { ProgramKeys } from './program-keys';
import type { ListedSample } from './sound-source';

const region = (over: Parameters<typeof listedRegion>[0] = {}) =>
  listedRegion({ lowKey: 24, highKey: 108, loop: 'loop-through-release', ...over });
const program = listedProgram;
const SAMPLE = {
  name: 'HORN',
  position: 1,
  file: 5,
  rateHz: 22_050,
  headerBytes: 150,
  frames: 4,
  bits: 16,
  rootNote: 60,
  cents: 0,
  loops: [],
  start: 0,
  end: 3,
  doubts: [],
} as unknown as ListedSample;

/** What the player was told: begun at so many cents and so loud, or let go. */
let told: string[];
let notes: ((event: { data: Uint8Array }) => void)[];

beforeEach(() => {
  told = [];
  notes = [];
  globalThis.fetch = (async () => ({
    ok: true,
    arrayBuffer: async () => new ArrayBuffer(150 + 8),
  })) as unknown as typeof fetch;
  Object.defineProperty(navigator, 'requestMIDIAccess', {
    configurable: true,
    value: async () => ({
      inputs: new Map([
        [
          'in',
          {
            addEventListener: (
              _: string,
              hear: (typeof notes)[0],
              { signal }: { signal: AbortSignal },
            ) => {
              notes.push(hear);
              signal.addEventListener('abort', () => notes.splice(notes.indexOf(hear), 1));
            },
          },
        ],
      ]),
    }),
  });
});

const show = (its: ListedProgram = program(region())) => {
  const player = {
    play: (
      _: unknown,
      { name, pitch }: { name: string; pitch: { cents: number; loudness: number } },
    ) => told.push(`${name}: ${pitch.cents} at ${Math.round(127 * pitch.loudness)}`),
    stop: (name: string) => told.push(`${name} let go`),
    playOut: (name: string) => told.push(`${name} plays out`),
    frameOf: () => null,
  } as unknown as Player;
  return render(<ProgramKeys program={its} samples={new Map([[1, SAMPLE]])} player={player} />);
};
const keyOf = (key: number) => document.querySelector(`[data-key="${key}"]`)!;
const isHeld = (key: number) => keyOf(key).getAttribute('data-held') === 'true';
const heard = (...wanted: string[]) => waitFor(() => expect(told).toEqual(wanted));

test('by the pointer, louder the lower on a key, until it leaves the key', async () => {
  show();
  keyOf(72).getBoundingClientRect = () => ({ top: 100, height: 127 }) as DOMRect;
  // The DOM of the tests has no pointers: theirs are events of a mouse.
  fireEvent(keyOf(72), new MouseEvent('pointerdown', { clientY: 164, bubbles: true }));
  expect(isHeld(72)).toBe(true);
  await heard('key 72 0: 1200 at 64');
  fireEvent.pointerLeave(keyOf(72));
  await heard('key 72 0: 1200 at 64', 'key 72 0 let go');
  fireEvent.pointerUp(keyOf(72));
  expect([isHeld(72), told.length]).toEqual([false, 2]);
});

test('by letters, whose octave moves; what was begun before it moved is let go as it was begun', async () => {
  show();
  fireEvent.keyDown(window, { key: 'z' });
  await heard('key 48 0: -1200 at 100');
  fireEvent.keyDown(window, { key: 'z', repeat: true });
  fireEvent.keyDown(window, { key: ']' });
  fireEvent.keyUp(window, { key: 'z' });
  await heard('key 48 0: -1200 at 100', 'key 48 0 let go');
  fireEvent.keyDown(window, { key: 'M' });
  await waitFor(() => expect(told.at(-1)).toBe('key 71 0: 1100 at 100'));
  // Digits are the stations', and with a modifier letters are the page's.
  fireEvent.keyDown(window, { key: '3' });
  fireEvent.keyDown(window, { key: 'D', shiftKey: true });
  expect(told).toHaveLength(3);
});

test('by an instrument: a note of no velocity is one let go; what is no note is not heard', async () => {
  const { unmount } = show();
  await waitFor(() => expect(notes).toHaveLength(1));
  const send = (...data: number[]) => act(() => notes[0]!({ data: Uint8Array.from(data) }));
  send(0x93, 60, 90);
  await heard('key 60 0: 0 at 90');
  send(0x93, 60, 0);
  await heard('key 60 0: 0 at 90', 'key 60 0 let go');
  send(0xb0, 7, 100);
  send(0xf8);
  expect(told).toHaveLength(2);
  unmount();
  expect(notes).toEqual([]);
});

test('left while a key is down, nothing sounds on', async () => {
  const { unmount } = show();
  fireEvent.keyDown(window, { key: 'x' });
  await heard('key 50 0: -1000 at 100');
  unmount();
  expect(told.at(-1)).toBe('key 50 0 let go');
});

test('what can’t be fetched is told, and the next key that sounds takes it away', async () => {
  globalThis.fetch = (async () => ({
    ok: false,
    statusText: 'FALSE NEWS',
    json: async () => ({}),
  })) as unknown as typeof fetch;
  // A sample of its own: what was fetched once is kept.
  const lost = { ...SAMPLE, file: 77 } as ListedSample;
  render(
    <ProgramKeys
      program={program(region())}
      samples={new Map([[1, lost]])}
      player={{ play: () => undefined, stop: () => undefined } as unknown as Player}
    />,
  );
  fireEvent.keyDown(window, { key: 'z' });
  expect((await screen.findByRole('alert')).textContent).toContain('FALSE NEWS');
  fireEvent.keyUp(window, { key: 'z' });
});

test('regions that meet stand above one another, one that lacks its sample is drawn as a gap', () => {
  show(
    program(
      region({ lowKey: 24, highKey: 60 }),
      region({ lowKey: 40, highKey: 70, lowVelocity: 64 }),
      region({ lowKey: 61, highKey: 80, sample: null, sampleName: 'GONE' }),
    ),
  );
  const bars = [...document.querySelectorAll('g rect')].map((bar) => ({
    y: Number(bar.getAttribute('y')),
    isGap: bar.getAttribute('fill') === 'none',
  }));
  expect(bars.map(({ isGap }) => isGap)).toEqual([false, false, true]);
  const [first, second, third] = bars.map(({ y }) => y);
  expect([second! > first!, third]).toEqual([true, first]);
  const names = [...document.querySelectorAll('g text')].map((text) => text.textContent);
  expect(names[1]).toContain('64');
});
