/** @jest-environment jsdom */
/** What is painted of a sound: where its loops, ends and doubts lie, and its frames as peaks or a line. */
import { Peaks } from '@/core/sound/peaks';
import type { Heard } from '../sound-source';
import { paintWave } from '../wave-paint';

const WIDTH = 400;
const HEIGHT = 100;

interface Filled {
  colour: string;
  box: [number, number, number, number];
}

/** A canvas of 400 by 100 whose pen notes what it fills and which lines it draws. */
function canvas() {
  const filled: Filled[] = [];
  const lines: { colour: string; points: [number, number][] }[] = [];
  const clips: number[][] = [];
  let points: [number, number][] = [];
  const pen = {
    fillStyle: '',
    strokeStyle: '',
    scale: () => undefined,
    fillRect: (...box: Filled['box']) => void filled.push({ colour: pen.fillStyle, box }),
    beginPath: () => void (points = []),
    moveTo: (x: number, y: number) => void points.push([x, y]),
    lineTo: (x: number, y: number) => void points.push([x, y]),
    stroke: () => void lines.push({ colour: pen.strokeStyle, points }),
    save: () => undefined,
    restore: () => undefined,
    rect: (...box: number[]) => void clips.push(box),
    clip: () => undefined,
  };
  const element = document.createElement('canvas');
  Object.defineProperty(element, 'clientWidth', { value: WIDTH });
  Object.defineProperty(element, 'clientHeight', { value: HEIGHT });
  element.getContext = (() => pen) as never;
  for (const name of ['sheet', 'sunk', 'line', 'ink', 'verdigris-wash'])
    element.style.setProperty(`--${name}`, name);
  element.style.setProperty('--grade-mended', 'frames');
  element.style.setProperty('--grade-doubtful', 'doubt');
  const of = (colour: string) =>
    filled.filter((each) => each.colour === colour).map(({ box }) => box);
  return { element, of, lines, clips };
}

const heard = (values: Float32Array, over: Partial<Heard> = {}): Heard => ({
  name: 'HORN',
  rateHz: 22_050,
  values,
  peaks: new Peaks(values),
  loop: null,
  loops: [],
  start: 0,
  end: values.length - 1,
  doubts: [],
  ...over,
});
const ALL = { from: 0, to: 4000 };

test('a long sound is drawn by the least and the greatest of each column', () => {
  const { element, of, lines } = canvas();
  const values = new Float32Array(4000);
  values.set([1, -1], 1000);
  values[2005] = 0.5;
  paintWave(element, heard(values), ALL);
  const columns = of('frames');
  expect(columns).toHaveLength(WIDTH);
  const tall = columns.filter(([, , , height]) => height > 1);
  // From the top to the bottom but for two pixels each; and from a half to the middle.
  expect(tall).toEqual([
    [100, 2, 1, 96],
    [200, 26, 1, 24],
  ]);
  expect(lines).toEqual([]);
});

test('so near that a frame is wider than a pixel it is a line through every frame in view', () => {
  const { element, lines, of } = canvas();
  const values = Float32Array.from({ length: 100 }, (_, i) => (i === 50 ? 1 : 0));
  paintWave(element, heard(values), { from: 40, to: 60 });
  expect(lines).toHaveLength(1);
  const [{ points, colour }] = lines as [(typeof lines)[0]];
  expect([colour, points.length, points[10]]).toEqual(['frames', 21, [200, 2]]);
  // A dot for each.
  expect(of('frames')).toHaveLength(21);
});

test('loops are washed where they lie, one that is held otherwise than one for a time', () => {
  const { element, of } = canvas();
  const loops = [
    { startFrame: 1000, endFrame: 2000, hold: true },
    { startFrame: 0, endFrame: 400, hold: false },
  ];
  paintWave(element, heard(new Float32Array(4000), { loops }), ALL);
  expect(of('verdigris-wash')).toEqual([[100, 0, 100, HEIGHT]]);
  expect(of('sunk')).toEqual([[0, 0, 40, HEIGHT]]);
});

test('ends are marked where not all of it is played', () => {
  const whole = canvas();
  paintWave(whole.element, heard(new Float32Array(4000)), ALL);
  expect(whole.of('ink')).toEqual([]);
  const part = canvas();
  paintWave(part.element, heard(new Float32Array(4000), { start: 1000, end: 2999 }), ALL);
  expect(part.of('ink').map(([x]) => x)).toEqual([99.5, 299.5]);
});

test('what is doubtful is hatched, at least two pixels of it', () => {
  const { element, clips, lines } = canvas();
  const doubts = [
    { from: 400, to: 800 },
    { from: 3999, to: 4000 },
  ];
  paintWave(element, heard(new Float32Array(4000), { doubts }), ALL);
  expect(clips.map(([left, , width]) => [Math.round(10 * left!), width])).toEqual([
    [400, 40],
    [3999, 2],
  ]);
  expect(lines.map(({ colour }) => colour)).toEqual(['doubt', 'doubt']);
});

test('beyond the last frame nothing is drawn', () => {
  const { element, of } = canvas();
  paintWave(element, heard(new Float32Array(1000)), ALL);
  expect(of('frames')).toHaveLength(100);
});
