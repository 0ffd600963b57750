/** The capture that a sitting elsewhere would have left of a made-up disk. */
import { simulateReading, type Ageing } from '@/core/flux/ageing';
import { ContainerWriter } from '@/core/flux/container';
import { encodeImage, type LaidTrack } from '@/core/image/encode-image';
import type { TrackMarksToWrite } from '@/core/layout/encode-track';
import type { Layout } from '@/core/layout/layout';
import { nodeDigester } from '@/node/digester';

const TICK_HZ = 24_000_000;

export interface Recorded {
  layout: Layout;
  image: Uint8Array;
  marks?: (cylinder: number, head: number) => TrackMarksToWrite;
  /** An older format that shows from this cylinder on, where the newer one did not reach. */
  older?: { layout: Layout; image: Uint8Array; from: number };
}

function* tracksOf({ layout, image, marks, older }: Recorded): Generator<LaidTrack> {
  for (const track of encodeImage(layout, image, marks))
    if (!older || track.cylinder < older.from) yield track;
  for (const track of older ? encodeImage(older.layout, older.image) : [])
    if (track.cylinder >= older!.from) yield track;
}

export function captureOf(label: string, recorded: Recorded, ageing: Ageing): Uint8Array {
  const {
    rpm,
    cylinders,
    heads,
    forms: [form],
  } = recorded.layout;
  const writer = new ContainerWriter(nodeDigester);
  const parts = [writer.header({ tickHz: TICK_HZ, form: form!, rpm, cylinders: 82, heads, label })];
  for (const { cylinder, head, turn } of tracksOf(recorded)) {
    parts.push(
      writer.reading(
        simulateReading(
          turn,
          ageing,
          {
            cylinder,
            head,
            pass: 1,
            cylinders,
            tickHz: TICK_HZ,
            turnSeconds: 60 / rpm,
            revolutions: 2,
            dirt: 0,
          },
          cylinder * heads + head,
        ),
      ),
    );
  }
  parts.push(writer.trailer());
  return new Uint8Array(Buffer.concat(parts));
}
