/** @jest-environment jsdom */
/** The surface as a table: the tracks with anything but firm sectors, in their order. */
import { render, screen } from '@testing-library/react';
import type { TrackMarks } from '@/core/reading/analysis/track-marks';
import { SurfaceLine, TwinTable } from './surface-table';

const mark = (r: number, grade: string) => ({
  r,
  grade,
  seen: 3,
  seenSound: grade === 'firm' ? 3 : 1,
});
const track = (cylinder: number, head: number, ...grades: string[]) =>
  ({
    cylinder,
    head,
    tries: 2,
    sectors: grades.map((grade, i) => mark(i + 1, grade)),
  }) as unknown as TrackMarks;
const cells = () =>
  [...screen.getByTestId('surface-table').querySelectorAll('tbody tr')].map((row) =>
    [...row.children].map(({ textContent }) => textContent),
  );

test('only what is not firm is listed, outermost and head 0 first', () => {
  render(
    <TwinTable
      shown
      tracks={[
        track(9, 1, 'firm', 'lost'),
        track(3, 0, 'firm', 'firm'),
        track(9, 0, 'mended', 'firm', 'doubtful'),
        track(1, 1, 'doubtful'),
      ]}
    />,
  );
  expect(cells().map(([cylinder, head]) => [cylinder, head])).toEqual([
    ['1', '1'],
    ['9', '0'],
    ['9', '1'],
  ]);
  const [, mixed] = cells();
  expect(mixed![3]).toMatch(/^.*1.*, .*3.*$/);
  expect(mixed![3]!.split(', ')).toHaveLength(2);
});

test('hidden from the eye it is still there for those who hear it', () => {
  const { rerender } = render(<TwinTable shown={false} tracks={[track(1, 1, 'lost')]} />);
  const group = () => screen.getByRole('group');
  expect([group().className, group().tabIndex]).toEqual(['sr-only', -1]);
  rerender(<TwinTable shown tracks={[track(1, 1, 'lost')]} />);
  expect(group().tabIndex).toBe(0);
});

test('a line has one stroke a cylinder, taller where either head is in doubt', () => {
  const { container } = render(
    <SurfaceLine
      cylinders={80}
      tracks={[
        { cylinder: 0, unsound: 0 },
        { cylinder: 0, unsound: 2 },
        { cylinder: 7, unsound: 0 },
      ]}
    />,
  );
  expect(
    [...container.querySelectorAll('rect')].map((each) =>
      ['x', 'height'].map((name) => Number(each.getAttribute(name))),
    ),
  ).toEqual([
    [0, 12],
    [21, 6],
  ]);
});
