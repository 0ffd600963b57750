/** @jest-environment jsdom */
/** Marks of a medium's condition: one key each, turned on and off, and the risk that follows. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { keepSent, renderWithQueries } from '../../../../tests/support/render';
import type { Arrivals } from '../../data/queries';
import { ConditionStrip, RiskBar } from '../condition-strip';

const medium = (more: object = {}): Arrivals['media'][number] =>
  ({
    code: 'TST-0001',
    condition: '',
    marks: [],
    writeProtected: false,
    recordedSide: 'not-said',
    treatFirst: false,
    ...more,
  }) as unknown as Arrivals['media'][number];
const onSay = jest.fn();
const show = (more: object = {}) =>
  renderWithQueries(<ConditionStrip medium={medium(more)} onSay={onSay} />);

beforeEach(() => onSay.mockReset());

test.each([
  ['m', { marks: { mould: true } }],
  ['h', { marks: { shedding: true } }],
  ['w', { marks: { warped: true } }],
  ['d', { marks: { 'dye-faded': true } }],
  ['l', { marks: { 'layer-clouded': true } }],
  ['s', { marks: { scratches: true } }],
  ['p', { writeProtected: true }],
  ['x', { treatFirst: true }],
])('%s says %j', async (key, body) => {
  const sent = keepSent();
  show();
  fireEvent.keyDown(window, { key });
  await waitFor(() => expect(sent).toEqual([{ path: '/api/media/TST-0001', body }]));
  expect(onSay).toHaveBeenCalledTimes(1);
});

test('what is on is pressed, and its key turns it off', async () => {
  const sent = keepSent();
  show({ marks: ['mould'], writeProtected: true });
  expect(screen.getAllByRole('button', { pressed: true })).toHaveLength(2);
  fireEvent.keyDown(window, { key: 'm' });
  fireEvent.keyDown(window, { key: 'p' });
  await waitFor(() => expect(sent).toHaveLength(2));
  expect(sent.map(({ body }) => body)).toEqual([
    { marks: { mould: false } },
    { writeProtected: false },
  ]);
});

test('the recorded side goes round', async () => {
  const seen: unknown[] = [];
  let side = 'not-said';
  for (let i = 0; i < 6; i++) {
    const sent = keepSent();
    const { unmount } = show({ recordedSide: side });
    fireEvent.keyDown(window, { key: 'b' });
    await waitFor(() => expect(sent).toHaveLength(1));
    side = (sent[0]!.body as { recordedSide: string }).recordedSide;
    seen.push(side);
    unmount();
    if (side === 'not-said') break;
  }
  expect(seen.at(-1)).toBe('not-said');
  expect(new Set(seen).size).toBe(seen.length);
});

test('the more marks, the longer the bar of risk; what is not to be read first has all of it', () => {
  const filled = (more: object) => {
    const { unmount } = renderWithQueries(<RiskBar medium={medium(more)} />);
    const bars = [...document.querySelectorAll('rect')].filter((each) =>
      each.getAttribute('fill')!.includes('mended'),
    ).length;
    unmount();
    return bars;
  };
  expect(filled({ marks: ['mould'] })).toBeGreaterThan(filled({}));
  expect(filled({ marks: ['mould', 'shedding'] })).toBeGreaterThanOrEqual(
    filled({ marks: ['mould'] }),
  );
  expect(filled({ treatFirst: true })).toBeGreaterThanOrEqual(
    filled({ marks: ['mould', 'shedding'] }),
  );
});
