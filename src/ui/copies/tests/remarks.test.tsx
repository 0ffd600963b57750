/** @jest-environment jsdom */
/** What may be as it was made is decided by a person; what is harmless is only told. */
import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { asWritten } from '@/core/said';
import { keepSent, renderWithQueries } from '../../../../tests/support/render';
import type { DocketData } from '../../data/queries';
import { Remarks } from '../remarks';
import type { Copy } from '../surface-place';

type Surface = NonNullable<Copy['surface']>;

const remark = (kind: 'as-made' | 'odd-harmless') => ({
  kind,
  what: asWritten('seen in one pass only'),
});
const track = (cylinder: number, kinds: ('as-made' | 'odd-harmless')[]) =>
  ({
    cylinder,
    head: 1,
    sectors: kinds.map((kind, i) => ({ r: i + 1, grade: 'doubtful', remarks: [remark(kind)] })),
  }) as unknown as Surface[number];

const shown = (surface: Surface, verdicts: unknown[] = [], onOpen = () => {}) =>
  renderWithQueries(
    <Remarks
      data={{ medium: { code: 'TST-0001' }, verdicts } as unknown as DocketData}
      surface={surface}
      onOpen={onOpen}
    />,
  );

test('nothing odd says nothing', () => {
  const { container } = shown([track(3, [])]);
  expect(container.textContent).toBe('');
});

test('a verdict goes with its place and what was said', async () => {
  const sent = keepSent();
  shown([track(3, ['as-made'])]);
  const [asMade] = within(screen.getByRole('listitem')).getAllByRole('button').slice(-2);
  fireEvent.click(asMade!);
  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]).toMatchObject({
    path: '/api/docket/TST-0001/verdicts',
    body: { cylinder: 3, head: 1, r: 1, verdict: 'as-made' },
  });
});

test('what was decided can only be decided the other way', () => {
  shown([track(3, ['as-made'])], [{ cylinder: 3, head: 1, r: 1, verdict: 'as-made' }]);
  const offered = within(screen.getByRole('listitem')).getAllByRole('button');
  expect(offered.map(({ textContent }) => textContent)).not.toContain('as made: keep it');
  expect(offered).toHaveLength(2);
});

test('a long list is told with how many more there are', () => {
  shown([
    track(
      3,
      Array.from({ length: 40 }, () => 'as-made' as const),
    ),
  ]);
  const lines = screen.getAllByRole('listitem');
  expect(lines.length).toBeLessThan(40);
  expect(lines.at(-1)!.textContent).toMatch(/\d/);
});
