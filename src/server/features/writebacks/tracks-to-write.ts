/** Tracks as they are to be written, and whether what reads back is what was meant. */
import { readContainer } from '@/core/flux/container-reader';
import { precompensationNs } from '@/core/flux/precompensation';
import type { TrackReading } from '@/core/flux/reading';
import { firstTurn, type TurnTransitions } from '@/core/flux/synthesis';
import { flatTrack } from '@/core/image/flat';
import { encodeTrack } from '@/core/layout/encode-track';
import { formatAt, tracksOfImage, type Layout } from '@/core/layout/layout';
import { driveFacts, groupByTrack } from '@/core/reading/decode/decode-capture';
import { TrackDecoder, type TrackDecode } from '@/core/reading/decode/track-decoder';
import type { TrackSector } from '@/core/reading/track-sector';
import { nodeDigester } from '@/node/digester';
import { readBlob } from '@/server/platform/blobs/read-blob';
import type { Database } from '@/server/platform/db/database';
import { isDoubleStepped } from './writeback-check';

/** A track, and what it must read back as. */
export interface TrackToWrite {
  cylinder: number;
  head: number;
  /** Where the head stands for it. */
  position: number;
  turn: TurnTransitions;
  /** Pre-compensation. */
  ns: number;
  wanted: readonly { r: number; data: Uint8Array | null }[];
}

/** A capture to write back as it is. */
export interface CaptureToWrite {
  groups: TrackReading[][];
  tickHz: number;
  rpm: number;
}

/** Tracks that need not be written any more. */
type IsDone = (place: { cylinder: number; head: number }) => boolean;

/** Laid out anew from an image. */
export function* tracksOfFlatImage(
  layout: Layout,
  image: Uint8Array,
  { cylinders, precompensate }: { cylinders: number; precompensate: boolean },
  isDone: IsDone,
): Generator<TrackToWrite> {
  const step = isDoubleStepped(layout, cylinders) ? 2 : 1;
  const places = [...tracksOfImage(layout)].sort(
    (a, b) => a.cylinder - b.cylinder || a.head - b.head,
  );
  for (const { cylinder, head } of places) {
    if (isDone({ cylinder, head })) continue;
    const wanted = flatTrack(layout, image, cylinder, head);
    const { encoding } = formatAt(layout, cylinder, head)!;
    yield {
      cylinder,
      head,
      position: cylinder * step,
      turn: encodeTrack(layout, cylinder, head, wanted),
      wanted,
      ns: precompensate ? precompensationNs(encoding, cylinder, layout.cylinders) : 0,
    };
  }
}

/** As the capture has them; a track without a whole turn has nothing to write. */
export function* tracksOfCapture(capture: CaptureToWrite, isDone: IsDone): Generator<TrackToWrite> {
  const decoder = new TrackDecoder(capture, 'all');
  for (const [reading] of capture.groups) {
    const { cylinder, head } = reading!;
    const turn = isDone(reading!) ? null : firstTurn(reading!, capture.tickHz);
    if (!turn) continue;
    const wanted = decoder
      .decode([reading!], null, { effort: 'by-turns' })
      .sectors.map(({ r, data, grade }) => ({ r, data: grade === 'firm' ? data : null }));
    // Flux as it was read has the shift of its reading in it already: it goes back as it is.
    yield { cylinder, head, position: cylinder, turn, ns: 0, wanted };
  }
}

/**
 * Reads back as it was meant to: sound and with the same bytes, or, where the original had no right
 * check, without one again.
 */
function readsBackAs(back: TrackSector | undefined, data: Uint8Array | null): boolean {
  if (!data) return back?.grade === 'doubtful';
  return back?.grade === 'firm' && back.data !== null && Buffer.compare(back.data, data) === 0;
}

/** Every sector that was written reads back in the first reading, and nothing else does. */
export function isProved({ sectors }: TrackDecode, wanted: TrackToWrite['wanted']): boolean {
  const left = [...sectors];
  return (
    sectors.length === wanted.length &&
    wanted.every(({ r, data }) => {
      const at = left.findIndex((sector) => sector.r === r && readsBackAs(sector, data));
      return at >= 0 && left.splice(at, 1).length === 1;
    })
  );
}

export async function captureToWriteBack(
  db: Database,
  blob: string | null,
): Promise<CaptureToWrite> {
  if (!blob) throw new Error('a write-back from flux without a capture');
  const { header, tracks } = readContainer(await readBlob(db, blob), nodeDigester);
  const {
    drive: { tickHz, rpm },
  } = driveFacts(header, tracks);
  return { groups: groupByTrack(tracks), tickHz, rpm };
}
