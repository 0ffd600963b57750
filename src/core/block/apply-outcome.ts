import { isSound, type Grade } from '../reading/grades';
import { PASSED_OVER, type ExtentMap, type Pace } from './extent-map';
import type { BlockStep } from './salvage-plan';

export interface BlockOutcome {
  /** Blocks that came, from the first on. */
  got: number;
  /**
   * Of those, which failed their own check, counted from the first; their bytes are there all the
   * same.
   */
  wrongCheck?: readonly number[];
  /** Of those, which their own error correction put right. */
  corrected?: readonly number[];
  /**
   * The next block is the one that failed; false where the device only said that the request did.
   */
  toldWhere: boolean;
  pace: Pace;
}

/** Folds what came of a step into the map. */
export function applyOutcome(
  map: ExtentMap,
  step: Exclude<BlockStep, { kind: 'done' }>,
  outcome: BlockOutcome | null,
): void {
  const end = step.from + step.count;
  if (step.kind === 'pass-over') {
    map.update(step.from, end, (known) => ({ ...known, group: PASSED_OVER }));
    return;
  }
  if (!outcome) return;
  const { got, toldWhere, pace, wrongCheck = [], corrected = [] } = outcome;
  const came = step.from + Math.min(got, step.count);
  const take = (from: number, to: number, grade?: Grade) =>
    map.update(from, to, (known) =>
      isSound(known.grade)
        ? known
        : {
            grade: grade ?? (known.tries === 0 ? 'firm' : 'mended'),
            tries: known.tries + 1,
            group: 0,
            pace,
          },
    );
  const at = takeApart(wrongCheck, step, corrected, take);
  take(at, came);
  if (came >= end) return;
  const alone = toldWhere || end - came === 1;
  if (alone) {
    map.update(came, came + 1, (known) =>
      isSound(known.grade)
        ? known
        : {
            grade: known.grade === 'doubtful' ? 'doubtful' : 'lost',
            tries: known.tries + 1,
            group: 0,
            pace,
          },
    );
    return;
  }
  const blocks = end - came;
  failTogether(map, came, end, blocks);
}

function takeApart(
  wrongCheck: readonly number[],
  step: Exclude<BlockStep, { kind: 'done' }>,
  corrected: readonly number[],
  take: (from: number, to: number, grade?: Grade) => void,
) {
  const apart = [
    ...wrongCheck.map((at) => ({ block: step.from + at, grade: 'doubtful' as const })),
    ...corrected.map((at) => ({ block: step.from + at, grade: 'mended' as const })),
  ].sort((a, b) => a.block - b.block);
  let at = step.from;
  for (const { block, grade } of apart) {
    take(at, block);
    take(block, block + 1, grade);
    at = block + 1;
  }
  return at;
}

function failTogether(map: ExtentMap, came: number, end: number, blocks: number) {
  map.update(came, end, (known) =>
    known.grade === 'unread'
      ? { ...known, group: Math.min(known.group || PASSED_OVER, blocks) }
      : known.grade === 'lost' || known.grade === 'doubtful'
        ? { ...known, tries: known.tries + 1 }
        : known,
  );
}
