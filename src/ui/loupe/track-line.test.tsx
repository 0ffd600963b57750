/** @jest-environment jsdom */
/** The track as decoded: each sector at its place, told apart by its grade, and chosen by a click. */
import { fireEvent, render, screen } from '@testing-library/react';
import type { TrackSector } from '@/core/reading/track-sector';
import { TrackLine } from './track-line';

const sector = (r: number, angle: number | null, grade: TrackSector['grade'] = 'firm') =>
  ({ r, angle, span: angle === null ? null : 0.1, grade }) as TrackSector;
const SECTORS = [
  sector(1, 0.0),
  sector(2, 0.2, 'doubtful'),
  sector(3, 0.8, 'lost'),
  sector(9, null),
];
const onChoose = jest.fn();
const show = (from: number, to: number, chosen: TrackSector | null = null) =>
  render(
    <TrackLine
      sectors={SECTORS}
      chosen={chosen}
      from={from}
      to={to}
      width={1000}
      onChoose={onChoose}
    />,
  );
const groups = () => [...screen.getByTestId('track-line').querySelectorAll('g')];
const data = (group: Element) => group.querySelectorAll('rect')[1]!;

beforeEach(() => onChoose.mockReset());

test('sectors lie where they were found; one without a place is left out', () => {
  show(0, 1);
  expect(groups().map((group) => group.querySelector('text')!.textContent)).toEqual([
    '1',
    '2',
    '3',
  ]);
  expect(groups().map((group) => Number(group.querySelector('rect')!.getAttribute('x')))).toEqual([
    0, 200, 800,
  ]);
});

test('looked at more closely, only those in sight are drawn, and wider', () => {
  show(0.15, 0.35);
  expect(groups()).toHaveLength(1);
  expect(Number(groups()[0]!.querySelector('rect')!.getAttribute('x'))).toBeCloseTo(250, 6);
  expect(Number(data(groups()[0]!).getAttribute('width'))).toBeGreaterThan(400);
});

test('what is sound has no outline, what is not has one, and each its own filling', () => {
  show(0, 1);
  const [firm, doubtful, lost] = groups().map(data);
  expect(firm!.getAttribute('stroke')).toBe('none');
  expect(doubtful!.getAttribute('stroke')).not.toBe('none');
  expect(lost!.getAttribute('stroke')).not.toBe('none');
  expect(new Set([firm, doubtful, lost].map((each) => each!.getAttribute('fill'))).size).toBe(3);
});

test('the chosen one is framed, and a click chooses another', () => {
  show(0, 1, SECTORS[1]!);
  expect(groups().map((group) => group.querySelectorAll('rect').length)).toEqual([2, 3, 2]);
  fireEvent.click(groups()[2]!);
  expect(onChoose.mock.calls).toEqual([[SECTORS[2]]]);
});
