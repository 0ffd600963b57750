/** @jest-environment jsdom */
/** Overlays, zoom and files of the surface. */
import fc from 'fast-check';
import type { SectorMark } from '@/core/reading/sector-mark';
import { surfaceSvg } from './surface-file';
import {
  surfaceBars,
  trackAt,
  viewOf,
  withCylinder,
  zoomed,
  type SurfaceSize,
} from './surface-layout';
import { differenceKey, overlayScale, STEPS } from './surface-overlay';

const size: SurfaceSize = { width: 844, height: 492, cylinders: 80, heads: 2 };
const mark = (r: number, more: Partial<SectorMark> = {}): SectorMark => ({
  c: 0,
  h: 0,
  r,
  n: 2,
  size: 512,
  grade: 'firm',
  angle: r / 10,
  span: 0.08,
  deleted: false,
  mending: null,
  seen: 1,
  seenSound: 1,
  ...more,
});
const tracks = [
  {
    cylinder: 3,
    head: 0,
    tries: 4,
    sectors: [
      mark(1, { pass: 1, timing: 4 }),
      mark(2, { grade: 'mended', pass: 3, timing: 15 }),
      mark(3, { grade: 'doubtful' }),
      mark(4, { grade: 'lost', angle: null, span: null }),
    ],
  },
  { cylinder: 4, head: 1, tries: 9, sectors: [mark(4, { pass: 9, timing: 40 })] },
];
const [first, second] = tracks as [(typeof tracks)[0], (typeof tracks)[0]];

test('each overlay has a step for what it knows, and none for what it does not', () => {
  const step = (name: Parameters<typeof overlayScale>[0]) => {
    const scale = overlayScale(
      name,
      tracks,
      new Map([
        [differenceKey(3, 0, 2), 'differ'],
        [differenceKey(4, 1, 4), 'neither'],
      ]),
    );
    return [
      ...first.sectors.map((each) => scale.step(first, each)),
      scale.step(second, second.sectors[0]!),
    ];
  };
  expect(step('tries')).toEqual([3, 3, 3, 3, 4]);
  expect(step('timing')).toEqual([0, 3, null, null, 4]);
  expect(step('pass')).toEqual([0, 2, null, null, 4]);
  expect(step('differences')).toEqual([0, 3, 0, 0, 2]);
  for (const name of ['tries', 'timing', 'pass', 'differences'] as const)
    expect(overlayScale(name, tracks, null).legend.length).toBeLessThanOrEqual(STEPS);
});

test('zooming keeps what it is about in view, never leaves the chart, and comes back to the whole', () => {
  fc.assert(
    fc.property(
      fc.nat(79),
      fc.double({ min: 0, max: 1, noNaN: true }),
      fc.array(fc.constantFrom(0.5, 0.75, 2), { maxLength: 12 }),
      (cylinder, angle, factors) => {
        let view = size.view;
        for (const factor of factors) {
          view = zoomed({ ...size, view }, factor, {
            cylinder: Math.max(
              viewOf({ ...size, view }).firstCylinder,
              Math.min(viewOf({ ...size, view }).lastCylinder, cylinder),
            ),
          });
          view = zoomed({ ...size, view }, factor, {
            angle: Math.max(
              viewOf({ ...size, view }).from,
              Math.min(viewOf({ ...size, view }).to, angle),
            ),
          });
          const { firstCylinder, lastCylinder, from, to } = viewOf({ ...size, view });
          expect(firstCylinder).toBeGreaterThanOrEqual(0);
          expect(lastCylinder).toBeLessThan(80);
          expect(lastCylinder - firstCylinder).toBeGreaterThanOrEqual(3);
          expect(from).toBeGreaterThanOrEqual(0);
          expect(to).toBeLessThanOrEqual(1 + 1e-9);
        }
        const moved = withCylinder(view, cylinder);
        expect(
          moved === undefined ||
            (moved.firstCylinder <= cylinder && moved.lastCylinder >= cylinder),
        ).toBe(true);
        for (let i = 0; i < 12; i++) view = zoomed({ ...size, view }, 2, { cylinder: 40 });
        for (let i = 0; i < 12; i++) view = zoomed({ ...size, view }, 2, { angle: 0.5 });
        expect(view).toBeUndefined();
      },
    ),
  );
});

test('a zoomed chart shows the sectors of its part, within its own sides', () => {
  const view = { firstCylinder: 2, lastCylinder: 5, from: 0.15, to: 0.35 };
  const bars = surfaceBars(tracks, { ...size, view });
  expect(bars.map(({ cylinder, mark: { r } }) => [cylinder, r])).toEqual([
    [3, 1],
    [3, 2],
    [3, 3],
  ]);
  for (const { x, width, y } of bars) {
    expect(x).toBeGreaterThanOrEqual(-0.01);
    expect(x + width).toBeLessThanOrEqual((size.width - 44) / 2 + 1.6);
    expect(trackAt(x + width / 2, y + 1, { ...size, view })).toEqual({ cylinder: 3, head: 0 });
  }
});

test('the SVG has every sector, with its words where it is not firm, and is well-formed', () => {
  const colours = {
    ground: '#fff',
    unread: '#eee',
    active: '#a00',
    grades: { firm: '#bbb', mended: '#666', doubtful: '#747', lost: '#000' },
    steps: ['#eee', '#ccc', '#aaa', '#777', '#222'],
  };
  const svg = surfaceSvg(
    { tracks, active: null, overlay: overlayScale('grade', tracks, null) },
    size,
    colours,
  );
  const parsed = new DOMParser().parseFromString(svg, 'image/svg+xml');
  expect(parsed.querySelector('parsererror')).toBeNull();
  expect([...parsed.querySelectorAll('title')].map(({ textContent }) => textContent)).toEqual([
    'cylinder 3, head 0, sector 2: mended',
    'cylinder 3, head 0, sector 3: doubtful',
    'cylinder 3, head 0, sector 4: lost',
  ]);
  expect(
    surfaceSvg(
      { tracks, active: null, overlay: overlayScale('tries', tracks, null) },
      size,
      colours,
    ),
  ).toContain('#222');
});
