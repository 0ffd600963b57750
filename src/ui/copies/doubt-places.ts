/** The places of a file's doubtful sectors, in a sentence. */
import { hexPlace } from '../parts/hex-rows';
import { say } from '@/messages';

/** The places of a file's doubtful sectors, in a sentence; null where it has none. */
export function doubtPlaces(doubts: readonly { offset: number; length: number }[]): string | null {
  if (doubts.length === 0) return null;
  const places = doubts
    .slice(0, 6)
    .map(({ offset }) => hexPlace(offset))
    .join(', ');
  return say.copies.sectorsInDoubtAt({
    doubts: doubts.length,
    places,
    value: doubts.length > 6 ? ' …' : '',
  });
}
