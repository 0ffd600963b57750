/** @jest-environment jsdom */
/** How sure each place of a track is, as it is drawn and told. */
import { render, screen } from '@testing-library/react';
import type { TrackWeights } from '@/core/reading/analysis/weigh-track';
import type { TrackSector } from '@/core/reading/track-sector';
import { say } from '@/messages';
import { AssumedPanel } from './assumed-panel';
import { DoubtStrip } from './doubt-strip';
import { GAP, MARGIN } from './ribbon-paint';

const CHART = 100;
const WIDTH = CHART + MARGIN + GAP;

const weights = (doubt: number[], more: Partial<TrackWeights> = {}): TrackWeights => ({
  turns: [
    { reading: 0, turn: 0, garbage: 0 },
    { reading: 0, turn: 1, garbage: 0.04 },
    { reading: 1, turn: 0, garbage: 0.25 },
  ],
  spread: 0.061,
  push: 0.208,
  missed: 0.004,
  extra: 0.0021,
  doubt: Float32Array.from(doubt),
  ...more,
});

const strip = (own: TrackWeights | null, [from, to] = [0, 1]) =>
  render(<DoubtStrip weights={own} from={from!} to={to!} width={WIDTH} />);

/** The left edges of what is drawn, and of what is drawn darker. */
const drawn = () =>
  [...document.querySelectorAll('[data-testid=doubt] path')].map((path) =>
    [...(path.getAttribute('d') ?? '').matchAll(/M([\d.]+) /g)].map(([, left]) => Number(left)),
  );

test('what is sure is left out, what is unsure drawn twice', () => {
  strip(weights([-8, -4, -0.3, -Infinity]));
  expect(drawn()).toEqual([[25, 50], [50]]);
});

test('only what is in view, as large as there is room', () => {
  strip(weights([-1, -1, -1, -1]), [0.5, 0.75]);
  const [all] = drawn();
  expect(all).toEqual([0]);
  const path = document.querySelector('[data-testid=doubt] path')!.getAttribute('d')!;
  expect(path).toMatch(/H100\.0V/);
});

test('places side by side are one, and are told in words', () => {
  strip(weights([-1, -2, -5, -0.5, -5, -1]));
  expect(screen.getByRole('img', { name: say.loupe.placesNotSure({ places: 3 }) })).toBeInstanceOf(
    SVGElement,
  );
});

test('while it is weighed, and where there is nothing to weigh, it says so', () => {
  const { rerender } = strip(null);
  expect(document.body.textContent).toContain(say.loupe.noWholeTurn);
  rerender(<DoubtStrip weights={undefined} from={0} to={1} width={WIDTH} />);
  expect(document.body.textContent).toContain(say.loupe.weighingAllTurns);
  const trouble = 'out of memory';
  rerender(<DoubtStrip weights={undefined} trouble={trouble} from={0} to={1} width={WIDTH} />);
  expect(document.body.textContent).toBe(say.loupe.notWeighed({ trouble }));
  expect(screen.queryByRole('img')).toBeNull();
});

const sector = (angle: number | null): TrackSector =>
  ({ r: 4, angle, span: angle === null ? null : 0.2 }) as TrackSector;

const values = () => [...document.querySelectorAll('dd')].map(({ textContent }) => textContent);

test('what was assumed, and the least certain place of the sector', () => {
  render(<AssumedPanel weights={weights([-6, -2.5, -6, -6, -6])} sector={sector(0.2)} />);
  expect(values()).toEqual([
    say.loupe.oneInCount({ count: '316' }),
    say.loupe.cellsAboutItsPlace({ spread: '0.06' }),
    say.loupe.cellsAtMost({ push: '0.21' }),
    say.loupe.percentOfThem({ percent: '0.4' }),
    say.loupe.percentOfThem({ percent: '0.2' }),
    [
      say.loupe.garbageInTurn({ reading: 2, turn: 1, percent: '25' }),
      say.loupe.garbageInTurn({ reading: 1, turn: 2, percent: '4.0' }),
    ].join('; '),
  ]);
});

test('a sector that was never seen has no place, and turns that are sound no garbage', () => {
  const turns = [{ reading: 0, turn: 0, garbage: 0.001 }];
  render(<AssumedPanel weights={weights([-6], { turns })} sector={sector(null)} />);
  expect([values()[0], values().at(-1)]).toEqual(['–', say.loupe.inNoTurn]);
});
