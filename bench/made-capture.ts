/**
 * Captures of a whole made-up disk, for measuring: clean, or aged as the stand-in ages its media.
 */
import { seededRandom } from '@/core/bits/random';
import { simulateReading, type Ageing } from '@/core/flux/ageing';
import { ContainerWriter } from '@/core/flux/container';
import { encodeImage } from '@/core/image/encode-image';
import { nodeDigester } from '@/node/digester';
import { bytesOf, type Layout } from '@/core/layout/layout';

export const CALM: Ageing = {
  seed: 'calm',
  jitterNs: 35,
  innerFactor: 1.4,
  peakShiftNs: 40,
  weak: [],
  dropouts: [],
  shedding: 0,
};

/** Random bytes over the whole layout, read with `revolutions` turns a track at 24 MHz. */
export function makeCapture(
  layout: Layout,
  revolutions: number,
  ageing: Ageing = CALM,
): { capture: Uint8Array; image: Uint8Array } {
  const random = seededRandom(`bench/${layout.id}`);
  const image = new Uint8Array(bytesOf(layout));
  for (let i = 0; i < image.length; i++) image[i] = random.below(256);
  const writer = new ContainerWriter(nodeDigester);
  const { rpm, cylinders, heads } = layout;
  const [form] = layout.forms;
  const tickHz = 24_000_000;
  const parts = [writer.header({ tickHz, form: form!, rpm, cylinders, heads })];
  for (const { cylinder, head, turn } of encodeImage(layout, image)) {
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
            tickHz,
            turnSeconds: 60 / rpm,
            revolutions,
            dirt: 0,
          },
          cylinder * heads + head,
        ),
      ),
    );
  }
  parts.push(writer.trailer());
  return { capture: new Uint8Array(Buffer.concat(parts)), image };
}
