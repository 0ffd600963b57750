/** What each cell is worth, against every sequence that there is. */
import { cellMargins } from '../cell-margins';
import type { CellMetric } from '../cell-metric';
import { freePath } from '../free-path';
import { madeUpMetric } from '../../../../../tests/support/reading/made-up-metric';
import { startModel } from '../track-model';

const mfm = startModel('mfm', 0, 1, 4000);
const group = startModel('gcr-6and2', 0, 1, 4000);

/** Every sequence of transitions that the code has, with its score. */
function* sequences(
  { cells, kinds, values }: CellMetric,
  { shortest, longest }: typeof mfm,
): Generator<{ held: number[]; score: number }> {
  function* from(
    cell: number,
    before: number,
    held: number[],
    score: number,
  ): Generator<{ held: number[]; score: number }> {
    if (cell >= cells) {
      yield { held, score };
      return;
    }
    for (let after = 0; after < kinds; after++)
      yield* from(
        cell + shortest + after,
        after,
        [...held, cell],
        score + values[(cell * kinds + before) * kinds + after]!,
      );
  }
  // The run before the first transition is not seen: any may have been.
  for (let first = 0; first < Math.min(longest, cells); first++)
    for (let before = 0; before < kinds; before++) yield* from(first, before, [], 0);
}

function byHand(metric: CellMetric, model: typeof mfm): number[] {
  const most = Array.from({ length: metric.cells }, () => [-Infinity, -Infinity]);
  for (const { held, score } of sequences(metric, model)) {
    const set = new Set(held);
    for (let i = 0; i < metric.cells; i++) {
      const at = set.has(i) ? 1 : 0;
      most[i]![at] = Math.max(most[i]![at]!, score);
    }
  }
  return most.map(([none, one]) => one! - none!);
}

test.each([
  ['MFM', mfm],
  ['a group code', group],
])('%s: as by trying every sequence', (name, model) => {
  for (let n = 0; n < 30; n++) {
    const metric = madeUpMetric(`${name} ${n}`, 5 + (n % 9), model.kinds);
    const margins = cellMargins(metric, model);
    const wanted = byHand(metric, model);
    for (const [i, margin] of margins.entries())
      if (Number.isFinite(wanted[i]!)) expect(margin).toBeCloseTo(wanted[i]!, 3);
      else expect(margin).toBe(wanted[i]!);
  }
});

test('what the likeliest sequence holds is above nothing, and the rest below', () => {
  for (const model of [mfm, group]) {
    const metric = madeUpMetric('long', 3000, model.kinds);
    const held = new Set(freePath(metric, model).cells);
    // Of its first transitions the sequence names but one.
    const margins = [...cellMargins(metric, model).entries()].slice(model.longest);
    for (const [i, margin] of margins)
      expect([i, Math.sign(margin)]).toEqual([i, held.has(i) ? 1 : -1]);
  }
});

test('of nothing there is nothing to weigh', () => {
  expect(cellMargins(madeUpMetric('none', 0, mfm.kinds), mfm)).toHaveLength(0);
});
