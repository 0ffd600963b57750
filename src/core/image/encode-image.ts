/** A whole image as the turns that its layout lays down. */
import type { TurnTransitions } from '../flux/synthesis';
import { encodeTrack, type TrackMarksToWrite } from '../layout/encode-track';
import { tracksOfImage, type Layout } from '../layout/layout';
import { flatTrack } from './flat';

export interface LaidTrack {
  /** Cylinder of the layout; a drive that steps twice finds it at twice this position. */
  cylinder: number;
  head: number;
  turn: TurnTransitions;
}

/**
 * Every track in the order in which a drive reads it. What the image lacks at its end is laid down
 * as zeros.
 */
export function* encodeImage(
  layout: Layout,
  image: Uint8Array,
  marks: (cylinder: number, head: number) => TrackMarksToWrite = () => ({}),
): Generator<LaidTrack> {
  const tracks = [...tracksOfImage(layout)].sort(
    (a, b) => a.cylinder - b.cylinder || a.head - b.head,
  );
  for (const { cylinder, head } of tracks)
    yield {
      cylinder,
      head,
      turn: encodeTrack(
        layout,
        cylinder,
        head,
        flatTrack(layout, image, cylinder, head),
        marks(cylinder, head),
      ),
    };
}
