/** Captures of a whole made-up disk, for measuring: clean, or aged as the stand-in ages its media. */
import { seededRandom } from '@/core/bits/random';
import { createMfm } from '@/core/encoding';
import { agedReading, type Ageing } from '@/core/flux/ageing';
import { ContainerWriter } from '@/core/flux/container';
import { transitionsOfCells } from '@/core/flux/synthesis';
import { flatTrack } from '@/core/image/flat';
import { nodeDigester } from '@/node/digester';
import { bytesOf, turnCells, type Layout } from '@/core/layout/layout';

export const CALM: Ageing = { seed: 'calm', jitterNs: 35, innerFactor: 1.4, peakShiftNs: 40, weak: [], dropouts: [], shedding: 0 };

/** Random bytes over the whole layout, read with `revolutions` turns a track at 24 MHz. */
export function makeCapture(layout: Layout, revolutions: number, ageing: Ageing = CALM): { capture: Uint8Array; image: Uint8Array } {
  const random = seededRandom(`bench/${layout.id}`);
  const image = new Uint8Array(bytesOf(layout));
  for (let i = 0; i < image.length; i++) image[i] = random.below(256);
  const mfm = createMfm();
  const writer = new ContainerWriter(nodeDigester);
  const { form, rpm, cylinders, heads } = layout;
  const tickHz = 24_000_000;
  const parts = [writer.header({ tickHz, form, rpm, cylinders, heads })];
  for (let cylinder = 0; cylinder < cylinders; cylinder++) {
    for (let head = 0; head < heads; head++) {
      const sectors = flatTrack(layout, image, cylinder, head).map((sector) => ({ ...sector, c: cylinder, h: head }));
      const turn = transitionsOfCells(mfm.encode(sectors, layout.track, turnCells(layout)));
      parts.push(writer.reading(agedReading(turn, ageing, {
        cylinder, head, pass: 1, cylinders, tickHz, turnSeconds: 60 / rpm, revolutions, dirt: 0,
      }, cylinder * heads + head)));
    }
  }
  parts.push(writer.trailer());
  return { capture: new Uint8Array(Buffer.concat(parts)), image };
}
