/** @jest-environment jsdom */
/** Keys on the surface: which way the cursor goes on either head, and how the view follows. */
import type { KeyboardEvent } from 'react';
import type { TrackMarks } from '@/core/reading/analysis/track-marks';
import { keyOf } from './painted-surface';
import type { SurfacePlace, SurfaceView } from './surface-layout';
import { surfaceKeys } from './use-surface-hands';

const CYLINDERS = 80;
const track = (cylinder: number, head: number, sectors = 9) =>
  ({
    cylinder,
    head,
    sectors: Array.from({ length: sectors }, (_, i) => ({ r: i + 1, angle: i / 9 })),
  }) as unknown as TrackMarks;

interface Pressed {
  cursor: SurfacePlace | null | undefined;
  view: SurfaceView | undefined | 'untouched';
  opened: number;
  prevented: boolean;
}

function press(
  key: string,
  cursor: SurfacePlace | null,
  {
    heads = 2,
    view,
    canOpen = true,
  }: { heads?: number; view?: SurfaceView; canOpen?: boolean } = {},
): Pressed {
  const result: Pressed = { cursor: undefined, view: 'untouched', opened: 0, prevented: false };
  const tracks = [track(0, 0), track(5, 0), track(5, 1), track(79, 1)];
  surfaceKeys({
    cursor,
    onOpen: canOpen ? () => undefined : undefined,
    open: () => void result.opened++,
    size: { width: 1000, height: 500, cylinders: CYLINDERS, heads, view },
    mark: undefined,
    setView: (next) => void (result.view = next as SurfaceView | undefined),
    byTrack: new Map(tracks.map((each) => [keyOf(each), each])),
    heads,
    cylinders: CYLINDERS,
    setCursor: (next) => void (result.cursor = next as SurfacePlace | null),
    view,
  })({
    key,
    preventDefault: () => void (result.prevented = true),
    stopPropagation: () => undefined,
  } as unknown as KeyboardEvent);
  return result;
}
const at = (cylinder: number, head: number, sector: number): SurfacePlace => ({
  cylinder,
  head,
  sector,
});

test.each([
  ['ArrowDown', at(5, 0, 2), at(6, 0, 2)],
  ['ArrowUp', at(5, 0, 2), at(4, 0, 2)],
  ['ArrowUp', at(0, 0, 2), at(0, 0, 2)],
  ['ArrowDown', at(79, 1, 2), at(79, 1, 2)],
  [' ', at(5, 0, 2), at(5, 1, 2)],
  [' ', at(5, 1, 2), at(5, 0, 2)],
  // Head 1 runs to the right from the seam, head 0 to the left.
  ['ArrowRight', at(5, 1, 2), at(5, 1, 3)],
  ['ArrowRight', at(5, 1, 8), at(5, 1, 0)],
  ['ArrowLeft', at(5, 1, 0), at(5, 1, 8)],
  ['ArrowRight', at(5, 0, 2), at(5, 0, 1)],
  ['ArrowLeft', at(5, 0, 2), at(5, 0, 3)],
  // Before a sector is chosen the first step chooses the first or the last.
  ['ArrowRight', at(5, 1, -1), at(5, 1, 0)],
  ['ArrowLeft', at(5, 1, -1), at(5, 1, 8)],
])('%s from %j leads to %j', (key, from, to) => {
  const pressed = press(key, from);
  expect([pressed.cursor, pressed.prevented]).toEqual([to, true]);
});

test('without a cursor it begins at the outermost track', () =>
  expect(press('ArrowDown', null).cursor).toEqual(at(1, 0, -1)));

test('a medium of one side has no other side', () => {
  expect(press(' ', at(5, 0, 2), { heads: 1 }).cursor).toEqual(at(5, 0, 2));
  expect(press('ArrowRight', at(5, 0, 2), { heads: 1 }).cursor).toEqual(at(5, 0, 3));
});

test('Enter opens what is under the cursor, where anything can be opened', () => {
  expect(press('Enter', at(5, 0, 2))).toMatchObject({ opened: 1, prevented: true });
  expect(press('Enter', null).opened).toBe(0);
  expect(press('Enter', at(5, 0, 2), { canOpen: false })).toMatchObject({
    opened: 0,
    prevented: false,
  });
});

test('plus and minus look closer and further, 0 shows all again', () => {
  const closer = press('+', at(40, 0, 2)).view as SurfaceView;
  expect(closer.lastCylinder - closer.firstCylinder + 1).toBe(40);
  expect(closer.firstCylinder).toBeLessThanOrEqual(40);
  expect(closer.lastCylinder).toBeGreaterThanOrEqual(40);
  expect(press('-', at(40, 0, 2), { view: closer }).view).toBeUndefined();
  expect(press('0', at(40, 0, 2), { view: closer }).view).toBeUndefined();
  const narrow = press('>', at(40, 0, 2)).view as SurfaceView;
  expect(narrow.to - narrow.from).toBeCloseTo(0.5, 6);
});

test('a cursor that leaves the view takes it along', () => {
  const view = { firstCylinder: 10, lastCylinder: 19, from: 0, to: 1 };
  const pressed = press('ArrowDown', at(19, 0, 0), { view });
  const next = pressed.view as SurfaceView;
  expect(next.lastCylinder).toBeGreaterThanOrEqual(20);
  expect(next.lastCylinder - next.firstCylinder).toBe(9);
});

test('any other key is left alone', () => {
  for (const key of ['a', 'Tab', 'Escape', 'PageDown', '1'])
    expect(press(key, at(5, 0, 2))).toEqual({
      cursor: undefined,
      view: 'untouched',
      opened: 0,
      prevented: false,
    });
});
