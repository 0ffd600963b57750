'use client';
/** A place on a surface that opens its track. */
import type { DocketData } from '../data/queries';
import type { TrackPlace } from '../decode/track-data';
import { say } from '@/messages';

/** Remarks and strange tracks listed before the rest is only counted. */
export const LISTED = 12;

export type Copy = NonNullable<DocketData['copy']>;

export function Place({
  cylinder,
  head,
  r,
  onOpen,
}: {
  cylinder: number;
  head: number;
  r?: number;
  onOpen: (place: TrackPlace) => void;
}) {
  return (
    <button
      type="button"
      onClick={() => onOpen({ cylinder, head, sector: r })}
      className="whitespace-nowrap font-[650] hover:underline"
    >
      {say.copies.cylinderHead({ cylinder, head })}

      {r !== undefined && say.copies.sector({ r })}
    </button>
  );
}
