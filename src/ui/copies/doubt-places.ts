/** The places of a file's doubtful sectors, in a sentence. */
import { hexPlace } from '../parts/hex-rows';

/** The places of a file's doubtful sectors, in a sentence; null where it has none. */
export function doubtPlaces(doubts: readonly { offset: number; length: number }[]): string | null {
  if (doubts.length === 0) return null;
  const places = doubts
    .slice(0, 6)
    .map(({ offset }) => hexPlace(offset))
    .join(', ');
  return (
    `${doubts.length} ${doubts.length === 1 ? 'sector' : 'sectors'} in doubt at ` +
    `${places}${doubts.length > 6 ? ' …' : ''}`
  );
}
