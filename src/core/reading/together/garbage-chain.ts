/**
 * Where a turn is garbage: a chain of two states along the turn, good and garbage, followed both
 * ways over what matched, was missing and was too many (the forward-backward algorithm of hidden
 * Markov models; Rabiner, 1989). A spot so ends where it ends, and not with its block.
 */

/** Cells of one step of the chain. */
export const STEP = 8;
/** Chance to go from good to garbage, and back, in one step. */
export const INTO = STEP / 1000;
export const OUT = STEP / 100;
/** Of an expected transition in garbage: the chance that one happens to lie there. */
export const MATCHED_BY_CHANCE = 0.4;
/** Transitions too many a cell in garbage. */
export const EXTRA_IN_GARBAGE = 0.2;

/** What a turn has in each step beside the sequence that is likeliest. */
export interface TurnTally {
  matched: Float32Array;
  missing: Float32Array;
  extra: Float32Array;
}

/** By step: the chance that the turn is garbage there; `missed` and `extra` are those of a good turn. */
export function garbageOf(
  { matched, missing, extra }: TurnTally,
  good: { missed: number; extra: number },
): Float32Array {
  const steps = matched.length;
  // How much likelier garbage makes a step than a good turn does.
  const ratio = Float64Array.from({ length: steps }, (_, i) =>
    Math.exp(
      matched[i]! * Math.log(MATCHED_BY_CHANCE / (1 - good.missed)) +
        missing[i]! * Math.log((1 - MATCHED_BY_CHANCE) / good.missed) +
        extra[i]! * Math.log(EXTRA_IN_GARBAGE / good.extra) -
        STEP * (EXTRA_IN_GARBAGE - good.extra),
    ),
  );
  // Forward: the chance of garbage by all up to a step; backward: how much what follows speaks for it.
  const ahead = new Float64Array(steps);
  let before = INTO / (INTO + OUT);
  for (let i = 0; i < steps; i++) {
    const bad = before * ratio[i]!;
    ahead[i] = bad / (bad + 1 - before);
    before = ahead[i]! * (1 - OUT) + (1 - ahead[i]!) * INTO;
  }
  const chances = new Float32Array(steps);
  let behind = 1;
  for (let i = steps - 1; i >= 0; i--) {
    const bad = ahead[i]! * behind;
    chances[i] = bad / (bad + 1 - ahead[i]!);
    const here = behind * ratio[i]!;
    behind = (here * (1 - OUT) + OUT) / (here * INTO + 1 - INTO);
  }
  return chances;
}
