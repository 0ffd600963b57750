/** A disc's tracks of sound gone through: gaps, silence that no file holds, indexes, tracks of data. */
import { parseCue } from '../cue';
import { passagesFrom, placeAt } from '../disc-sound';
import { tracksOf } from '../disc-tracks';
import { RAW_BYTES } from '../raw-sector';
import { sheetText } from '../sheet-for-disc';

const SHEET = `FILE "mole.bin" BINARY
  TRACK 01 MODE1/2352
    INDEX 01 00:00:00
  TRACK 02 AUDIO
    PREGAP 00:00:10
    INDEX 00 00:01:00
    INDEX 01 00:01:05
    INDEX 02 00:02:05
    INDEX 03 00:03:00
  TRACK 03 AUDIO
    INDEX 00 00:04:00
    INDEX 01 00:04:20
  TRACK 04 AUDIO
    PREGAP 00:00:30
    INDEX 01 00:06:00
  TRACK 05 MODE1/2352
    INDEX 01 00:07:00
  TRACK 06 AUDIO
    INDEX 01 00:08:00
`;
const SIZES = [750 * RAW_BYTES];
const { tracks, problems } = tracksOf(parseCue(SHEET), SIZES);

const told = (number: number) =>
  passagesFrom(tracks, number).map(({ track, isGap, fileSector, sectors }) => [
    track.number,
    isGap,
    fileSector,
    sectors,
  ]);

test('from a track on, to the next of data: gaps of the file, and silence before them', () => {
  expect(problems).toEqual([]);
  expect(told(2)).toEqual([
    [2, false, 80, 220],
    [3, true, 300, 20],
    [3, false, 320, 130],
    [4, true, null, 30],
    [4, false, 450, 75],
  ]);
  expect(told(4)).toEqual([[4, false, 450, 75]]);
  expect(told(6)).toEqual([[6, false, 600, 150]]);
});

test('tracks of data, and those that are not there, are not heard', () => {
  expect([told(1), told(5), told(9)]).toEqual([[], [], []]);
  expect(placeAt([], 0)).toBeNull();
});

test('the place counts down in a gap and knows the indexes; behind the end it stays there', () => {
  const passages = passagesFrom(tracks, 2);
  const at = (sector: number) => Object.values(placeAt(passages, sector)!);
  expect([at(0), at(74), at(75), at(144), at(145), at(219)]).toEqual([
    [2, 1, 0],
    [2, 1, 74],
    [2, 2, 75],
    [2, 2, 144],
    [2, 3, 145],
    [2, 3, 219],
  ]);
  expect([at(220), at(239), at(240), at(370), at(400), at(10_000)]).toEqual([
    [3, 0, -20],
    [3, 0, -1],
    [3, 1, 0],
    [4, 0, -30],
    [4, 1, 0],
    [4, 1, 75],
  ]);
});

test('indexes of a sheet that go back, leave one out or lie behind the track are none; a sheet keeps the others', () => {
  const odd = SHEET.replace('INDEX 03 00:03:00', 'INDEX 03 00:01:30\n    INDEX 04 00:03:00');
  const indexesOf = (text: string) =>
    tracksOf(parseCue(text), SIZES).tracks.map(({ indexes }) => indexes);
  expect(indexesOf(odd)[1]).toEqual([75]);
  expect(indexesOf(SHEET.replace('INDEX 03 00:03:00', 'INDEX 03 00:05:00'))[1]).toEqual([75]);
  const again = sheetText('mole.bin', tracks);
  expect(indexesOf(again)).toEqual([undefined, [75, 145], ...Array(4).fill(undefined)]);
  expect(again).toContain('    INDEX 02 00:02:05\r\n    INDEX 03 00:03:00\r\n');
});
