/** @jest-environment jsdom */
/** What became of files that were put in: told where there is something to tell, until it is seen. */
import { fireEvent, render, screen } from '@testing-library/react';
import type { Outcome } from '@/server/features/assemblies/gather-files';
import { Told } from '../assembly-told';
import { CapacityRuler } from '../capacity-ruler';

const put = (path: string, more: object = {}) => ({
  path,
  was: path,
  renamed: null,
  doubt: null,
  ...more,
});
const onDone = jest.fn();
const show = (outcome: Outcome) => render(<Told outcome={outcome} onDone={onDone} />);
const lines = () => [...document.querySelectorAll('li')].map(({ textContent }) => textContent);

test('files that simply went in are told by the listing alone', () => {
  const { container } = show({ put: [put('A.TXT')], left: [] });
  expect(container.innerHTML).toBe('');
});

test('what is left out comes first, then what is in doubt, then other names', () => {
  show({
    put: [
      put('A.TXT'),
      put('B2.TXT', { was: 'B.TXT', renamed: 'There is a B.TXT already.' }),
      put('C.TXT', { doubt: '2 of its sectors are in doubt' }),
    ],
    left: [{ name: 'D.TXT', why: 'It finds no room.' }],
  });
  expect(lines().map((line) => /[A-D]2?\.TXT/.exec(line!)![0])).toEqual([
    'D.TXT',
    'C.TXT',
    'B.TXT',
  ]);
  expect(lines()[0]).toContain('It finds no room.');
  expect(lines()[1]).toContain('2 of its sectors are in doubt');
  expect(lines()[2]).toContain('B2.TXT');
  fireEvent.click(screen.getByRole('button'));
  expect(onDone).toHaveBeenCalledTimes(1);
});

describe('the ruler of its room', () => {
  const onChoose = jest.fn();
  const entry = (path: string, cost: number, change: string | null = null) => ({
    path,
    kind: 'file' as const,
    cost,
    change,
  });
  const ruler = (chosen: string | null = null) =>
    render(
      <CapacityRuler
        room={{ unit: 'block', total: 100, free: 60 }}
        entries={[entry('A', 10), entry('B', 20, 'new')] as never}
        chosen={chosen}
        onChoose={onChoose}
      />,
    );
  const stretches = () => [...document.querySelectorAll('svg > rect')];

  test('everything used is on it, and no more', () => {
    ruler();
    const figure = screen.getByTestId('capacity');
    expect([figure.dataset.used, figure.dataset.free]).toEqual(['40', '60']);
    const end = Math.max(
      ...stretches().map(
        (each) => Number(each.getAttribute('x')) + Number(each.getAttribute('width')),
      ),
    );
    expect(end).toBeGreaterThan(395);
    expect(end).toBeLessThanOrEqual(400);
  });

  test('a file is chosen by a click, and the chosen one stands out', () => {
    ruler('A');
    const chosen = stretches().filter((each) => each.getAttribute('stroke') !== 'none');
    expect(chosen).toHaveLength(1);
    const other = stretches().find((each) => each.textContent!.includes('B'))!;
    fireEvent.click(other);
    expect(onChoose.mock.calls).toEqual([['B']]);
  });

  test('what is new is filled otherwise than what was there', () => {
    ruler();
    const fills = ['A', 'B'].map((name) =>
      stretches()
        .find((each) => each.querySelector('title')!.textContent!.startsWith(name))!
        .getAttribute('fill'),
    );
    expect(new Set(fills).size).toBe(2);
  });
});
