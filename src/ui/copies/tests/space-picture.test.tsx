/** @jest-environment jsdom */
/** Where files lie on a volume: drawn to its length, doubt and deleted ones told apart. */
import { render, screen } from '@testing-library/react';
import type { DocketData } from '../../data/queries';
import { SpacePicture } from '../space-picture';

type Volume = DocketData['contents'][number];
const volume = (space: [number, number, string][], more: object = {}) =>
  ({
    space,
    length: 1000,
    inside: null,
    totalBytes: 900,
    freeBytes: 100,
    ...more,
  }) as unknown as Volume;
const pieces = () =>
  [...screen.getByRole('img').children]
    .filter(({ tagName }) => tagName === 'rect')
    .map((each) => ['x', 'width', 'fill', 'stroke'].map((name) => each.getAttribute(name)));

test('pieces lie where their bytes are', () => {
  render(
    <SpacePicture
      volume={volume([
        [0, 100, 'file'],
        [250, 500, 'file'],
      ])}
    />,
  );
  expect(pieces().map(([x, width]) => [x, width])).toEqual([
    ['0%', '10%'],
    ['25%', '25%'],
  ]);
});

test('doubt is filled otherwise, and what is deleted has an outline and no filling', () => {
  render(
    <SpacePicture
      volume={volume([
        [0, 9, 'file'],
        [9, 20, 'doubt'],
        [20, 40, 'deleted'],
      ])}
    />,
  );
  const [file, doubt, deleted] = pieces();
  expect(new Set([file![2], doubt![2], deleted![2]]).size).toBe(3);
  expect([deleted![2], deleted![3] === 'none']).toEqual(['none', false]);
});

test('a piece too small to be set apart has no line that would hide it', () => {
  render(
    <SpacePicture
      volume={volume([
        [0, 2, 'file'],
        [10, 100, 'file'],
      ])}
    />,
  );
  expect(pieces().map(([, , , stroke]) => stroke === 'none')).toEqual([true, false]);
});

test('what is drawn is also said', () => {
  const { unmount } = render(<SpacePicture volume={volume([])} />);
  expect(screen.getByRole('img').getAttribute('aria-label')).toMatch(/800.*900/);
  unmount();
  render(<SpacePicture volume={volume([], { inside: 'DISK.IMG' })} />);
  expect(screen.getByRole('img').getAttribute('aria-label')).toContain('DISK.IMG');
});
