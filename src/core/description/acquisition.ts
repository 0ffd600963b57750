/** How something came into the house: from whom, when, how, and on what agreement. */
export const ACQUISITION_WAYS = Object.freeze([
  'loan',
  'deposit',
  'gift',
  'bequest',
  'purchase',
  'transfer',
  'found',
  'not-said',
] as const);
export type AcquisitionWay = (typeof ACQUISITION_WAYS)[number];

export interface Acquisition {
  from: string;
  /** A date of EDTF; empty where it is not known. */
  on: string;
  how: AcquisitionWay;
  notes: string;
  /** The paper beside it that is the agreement; null where there is none. */
  agreement: number | null;
}

export const NOT_ACQUIRED: Acquisition = Object.freeze({
  ...{ from: '', on: '', how: 'not-said', notes: '', agreement: null },
});

/** Nothing of it is known. */
export const isNothingSaid = ({ from, on, how, notes, agreement }: Acquisition): boolean =>
  [from, on, notes].every((text) => text === '') && how === 'not-said' && agreement === null;
