/** One track's readings as the server keeps them, and decoded in the page's workers. */
import type { RecoverySetting } from '@/core/encoding';
import { readContainer } from '@/core/flux/container-reader';
import type { TrackReading } from '@/core/flux/reading';
import type { Layout } from '@/core/layout/layout';
import { driveFacts, trackName } from '@/core/reading/decode/decode-capture';
import type { TrackDecode } from '@/core/reading/decode/track-decoder';
import type { DriveFacts } from '@/core/reading/decode/track-work';
import { pageWorkers } from './page-workers';
import { say } from '@/messages';

export interface TrackPlace {
  cylinder: number;
  head: number;
  sector?: number;
}

export interface TrackData {
  readings: TrackReading[];
  drive: DriveFacts;
}

export async function fetchTrack(
  copyId: number,
  { cylinder, head }: TrackPlace,
): Promise<TrackData> {
  const response = await fetch(`/api/tracks/${copyId}?cylinder=${cylinder}&head=${head}`);
  if (!response.ok)
    throw new Error(
      ((await response.json()) as { error?: string }).error ?? say.parts.theReadingsOfThis,
    );
  const { header, tracks } = readContainer(new Uint8Array(await response.arrayBuffer()), null);
  return { readings: tracks, drive: driveFacts(header, tracks).drive };
}

interface DecodedTrack {
  track: TrackDecode;
  milliseconds: number;
}

/** Decodes with every recovery there is, and with a person's own setting where one is given. */
export async function decodeTrack(
  { readings, drive }: TrackData,
  layout: Layout | null,
  setting: RecoverySetting | null = null,
): Promise<DecodedTrack> {
  const started = performance.now();
  const settings = setting ? new Map([[trackName(readings[0]!), setting]]) : undefined;
  const [track] = await pageWorkers().decode({
    groups: [readings],
    drive,
    turns: 'all',
    layout,
    stepping: layout?.stepping === 'double' ? 2 : 1,
    effort: 'full',
    settings,
  });
  return { track: track!, milliseconds: performance.now() - started };
}
