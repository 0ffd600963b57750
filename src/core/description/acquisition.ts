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
