/** A sector as charts and tables show it: small enough to be sent for every track as it is read. */
import type { Grade } from './grades';
import type { Mending, TrackSector } from './merge';
import type { Remark } from './remarks';

export interface SectorMark {
  c: number;
  h: number | null;
  r: number;
  n: number | null;
  size: number;
  grade: Grade;
  /** Shares of a turn; null for what was never seen. */
  angle: number | null;
  span: number | null;
  deleted: boolean;
  mending: Mending | null;
  /** Turns in which its ID, and its data with a right check, were seen. */
  seen: number;
  seenSound: number;
  remarks?: Remark[];
}

const rounded = (share: number | null) => (share === null ? null : Math.round(share * 1e5) / 1e5);

export function markOf({ c, h, r, n, size, grade, angle, span, deleted, mending, seen, seenSound, remarks }: TrackSector): SectorMark {
  return { c, h, r, n, size, grade, angle: rounded(angle), span: rounded(span), deleted, mending, seen, seenSound, ...(remarks.length > 0 && { remarks }) };
}
