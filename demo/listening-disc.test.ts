/** The made-up disc of sound: as its sheet says, loud enough and nowhere too loud. */
import { passagesFrom } from '@/core/optical/disc-sound';
import { hasPreEmphasis, tracksOf } from '@/core/optical/disc-tracks';
import { parseCue } from '@/core/optical/cue';
import { RAW_BYTES } from '@/core/optical/raw-sector';
import { listeningDisc } from './listening-disc';

test('three tracks, one with its treble lifted, gaps of the file and beside it, no value held', () => {
  const { image, cue } = listeningDisc();
  const { tracks, problems } = tracksOf(parseCue(cue), [image.length]);
  expect(problems).toEqual([]);
  expect(tracks.map(hasPreEmphasis)).toEqual([false, true, false]);
  const passages = passagesFrom(tracks, 1);
  expect(passages.map(({ isGap, fileSector, sectors }) => [isGap, fileSector, sectors])).toEqual([
    [false, 0, 450],
    [true, 450, 150],
    [false, 600, 375],
    [true, null, 75],
    [false, 975, 300],
  ]);
  const loudest = ({ fileSector, sectors }: (typeof passages)[0]) => {
    const from = image.byteOffset + fileSector! * RAW_BYTES;
    const values = new Int16Array(image.buffer.slice(from, from + sectors * RAW_BYTES));
    return values.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
  };
  const [first, gap, bell, , last] = passages as [(typeof passages)[0], ...typeof passages];
  expect(loudest(gap!)).toBe(0);
  for (const each of [first, bell!, last!]) {
    expect(loudest(each)).toBeGreaterThan(8000);
    expect(loudest(each)).toBeLessThan(32_000);
  }
});
