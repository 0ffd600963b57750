/** @jest-environment jsdom */
/** A recovery setting that a person tries: what it changes, and that only what is better is kept. */
import { fireEvent, render, screen } from '@testing-library/react';
import type { RecoverySetting } from '@/core/encoding';
import type { TrackSector } from '@/core/reading/track-sector';
import { SettingForm } from './setting-form';

const SETTING: RecoverySetting = {
  phaseGain: 0.3,
  rateGain: 0.01,
  shiftGain: 0,
  drift: 0.1,
  cell: 1,
};
const sector = (r: number, grade: TrackSector['grade'], angle: number | null = r / 10) =>
  ({ r, size: 512, grade, angle }) as TrackSector;
const onSet = jest.fn();
const onKeep = jest.fn();

interface Shown {
  setting?: RecoverySetting | null;
  before?: TrackSector[];
  after?: TrackSector[] | null;
  working?: boolean;
  keeping?: boolean;
}
const show = ({
  setting = SETTING,
  before = [],
  after = [],
  working = false,
  keeping = false,
}: Shown) =>
  render(
    <SettingForm
      setting={setting}
      onSet={onSet}
      before={before}
      outcome={after && { sectors: after, milliseconds: 12.4 }}
      working={working}
      onKeep={onKeep}
      keeping={keeping}
      trouble={undefined}
    />,
  );
const outcome = () => screen.getByTestId('setting-outcome').textContent!;
const reason = () => document.querySelector('textarea');

beforeEach(() => [onSet, onKeep].forEach((mock) => mock.mockReset()));

test('without a setting nothing can be kept or turned, but a start be chosen', () => {
  show({ setting: null });
  expect(document.querySelectorAll('input[type=range]')).toHaveLength(0);
  const [start] = screen.getAllByRole('button');
  fireEvent.click(start!);
  expect(onSet).toHaveBeenCalledWith(expect.objectContaining({ cell: 1 }));
});

test('every start lies within the limits of its sliders', () => {
  show({});
  const limits = [...document.querySelectorAll<HTMLInputElement>('input[type=range]')].map(
    ({ min, max }) => [Number(min), Number(max)] as const,
  );
  const parts = ['phaseGain', 'rateGain', 'drift', 'cell', 'shiftGain'] as const;
  const starts = screen.getAllByRole('button').slice(0, 3);
  for (const start of starts) {
    fireEvent.click(start);
    const setting = onSet.mock.calls.at(-1)![0] as RecoverySetting;
    parts.forEach((part, i) => {
      expect(setting[part]).toBeGreaterThanOrEqual(limits[i]![0]);
      expect(setting[part]).toBeLessThanOrEqual(limits[i]![1]);
    });
  }
});

test('a slider changes its own part alone', () => {
  show({});
  const [, rate] = document.querySelectorAll('input[type=range]');
  fireEvent.change(rate!, { target: { value: '0.02' } });
  expect(onSet).toHaveBeenCalledWith({ ...SETTING, rateGain: 0.02 });
});

test('a sector that became sound is told, and may be kept with its reason', () => {
  show({
    before: [sector(1, 'firm'), sector(2, 'lost')],
    after: [sector(1, 'firm'), sector(2, 'mended')],
  });
  expect(outcome()).toMatch(/2/);
  expect(outcome()).not.toMatch(/sector 1/i);
  fireEvent.change(reason()!, { target: { value: 'The speed faltered here.' } });
  fireEvent.submit(reason()!.closest('form')!);
  expect(onKeep.mock.calls).toEqual([['The speed faltered here.']]);
});

test('one that became worse is told and not kept', () => {
  show({ before: [sector(1, 'firm')], after: [sector(1, 'doubtful')] });
  expect(outcome()).toMatch(/1/);
  expect(reason()).toBeNull();
});

test('two of one number are told apart by their places', () => {
  show({
    before: [sector(1, 'firm', 0.1), sector(1, 'lost', 0.6)],
    after: [sector(1, 'firm', 0.105), sector(1, 'mended', 0.601)],
  });
  expect(reason()).not.toBeNull();
});

test('a sound sector that was not seen before counts as better', () => {
  show({ before: [], after: [sector(4, 'mended')] });
  expect(reason()).not.toBeNull();
});

test('while it is tried, and where nothing changes, nothing can be kept', () => {
  const { unmount } = show({ after: null, working: true });
  expect(reason()).toBeNull();
  unmount();
  show({ before: [sector(1, 'firm')], after: [sector(1, 'firm')] });
  expect(outcome()).toContain('12');
  expect(reason()).toBeNull();
});

test('while it is kept it is not kept twice', () => {
  show({ before: [sector(2, 'lost')], after: [sector(2, 'mended')], keeping: true });
  expect(document.querySelector<HTMLButtonElement>('button[type=submit]')!.disabled).toBe(true);
});
