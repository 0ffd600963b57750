/**
 * What a person sees of a medium's condition before it goes into a drive: quick marks, and the
 * order of risk that follows.
 */

export const CONDITION_MARKS = Object.freeze([
  'mould',
  'shedding',
  'warped',
  'dye-faded',
  'layer-clouded',
  'scratches',
] as const);
export type ConditionMark = (typeof CONDITION_MARKS)[number];

/** 1 to 5: how much may be lost by waiting, or by a careless reading. */
export const RISK_OF: Record<ConditionMark, number> = {
  mould: 5,
  shedding: 4,
  warped: 3,
  'dye-faded': 3,
  'layer-clouded': 3,
  scratches: 2,
};
export const MAX_RISK = 5;

/** Which side of a medium holds anything, as far as a person said. */
export const RECORDED_SIDES = Object.freeze(['not-said', 'both', 'label', 'back'] as const);
export type RecordedSide = (typeof RECORDED_SIDES)[number];
/** Risk from 1, nothing seen, to 5; each further mark adds to the worst. */
export function riskOf(marks: readonly ConditionMark[], treatFirst: boolean): number {
  const worst = Math.max(1, ...marks.map((mark) => RISK_OF[mark]));
  return Math.min(MAX_RISK, treatFirst ? MAX_RISK : worst + (marks.length > 1 ? 1 : 0));
}

/**
 * Marks that a text names, as it comes from a spreadsheet: "Mould; light scratches"; "no mould"
 * names none.
 */
export function marksIn(text: string): ConditionMark[] {
  const lower = text.toLowerCase();
  return CONDITION_MARKS.filter((mark) =>
    new RegExp(`(?<!\\b(no|not|without) )\\b(${mark}|${mark.replace('-', ' ')})`).test(lower),
  );
}
