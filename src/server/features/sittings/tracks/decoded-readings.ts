/** Readings of one track, decoded together, and what is told of them. */
import { said, type Said } from '@/core/said';
import type { TrackReading } from '@/core/flux/reading';
import type { Layout } from '@/core/layout/layout';
import { settleTold, type ControllerTrack } from '@/core/reading/controller/controller-tracks';
import { expectationAt } from '@/core/reading/decode/expectation';
import type { TrackDecode, TrackDecoder } from '@/core/reading/decode/track-decoder';
import { isSound } from '@/core/reading/grades';
import type { TrackProgress } from '@/core/reading/plan/plan';

/** More sectors than these are counted only. */
const LISTED = 4;

/** Readings of one track: flux, or what a drive told. */
export interface Readings {
  flux: TrackReading[];
  controller: ControllerTrack[];
}

export const withFresh = (earlier: Readings, fresh: Readings): Readings => ({
  flux: [...earlier.flux, ...fresh.flux],
  controller: [...earlier.controller, ...fresh.controller],
});

export function decodeReadings(
  decoder: TrackDecoder,
  { flux, controller }: Readings,
  layout: Layout | null,
  stepping: 1 | 2,
  rpm: number,
): TrackDecode {
  if (flux.length > 0) return decoder.decode(flux, layout, { stepping, effort: 'by-turns' });
  const { cylinder, head } = controller[0]!;
  return settleTold(controller, layout && expectationAt(layout, stepping, cylinder, head), rpm);
}

export const unsoundOf = ({ sectors }: TrackDecode) =>
  sectors.filter(({ grade }) => !isSound(grade)).length;

/** A sentence for the ledger where a reading brought news; null for a track that simply read. */
export function newsOf(
  cylinder: number,
  head: number,
  before: TrackProgress | null,
  { sectors }: TrackDecode,
  { unsound, tries }: TrackProgress,
): Said | null {
  const place = said('sittings.cylinderHead', { cylinder, head });
  const numbers = sectors.filter(({ grade }) => !isSound(grade)).map(({ r }) => r);
  const failed =
    numbers.length > LISTED ? said('sittings.sectors', { numbers: numbers.length }) : numbers;
  if (!before) return unsound > 0 ? said('sittings.notReadWithA', { place, failed }) : null;
  if (unsound === 0) return said('sittings.everySectorSoundAt', { place, tries });
  return unsound < before.unsound
    ? said('sittings.moreSoundStillNot', {
        place,
        unsound: before.unsound - unsound,
        failed,
      })
    : null;
}
