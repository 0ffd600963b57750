/** What no sound reading supplied is told of every file, whatever the image is: the built command line. */
import { readFileSync } from 'node:fs';
import { loadExpectation, loadVector, sha256Hex } from '../../tests/support/vectors';
import { spindleInFolder } from '../../tests/support/cli/spindle-in-folder';

const { path: inFolder, put, spindle } = spindleInFolder();

interface Listed {
  path: string;
  sha256: string | null;
  bytes: number;
  sectorsInDoubt?: number;
  doubts?: { offset: number; length: number }[];
  inDoubt: number;
}

const filesOf = (name: string): Listed[] =>
  JSON.parse(spindle('contents', name, '--json', '-').stdout).volumes[0].files;
const doubtful = (name: string) =>
  filesOf(name).flatMap(({ path, sectorsInDoubt }) =>
    sectorsInDoubt ? [[path, sectorsInDoubt]] : [],
  );
const indexed = (name: string) =>
  (JSON.parse(spindle('index', name, '--json', '-').stdout) as Listed[]).flatMap(
    ({ path, inDoubt }) => (inDoubt ? [[path, inDoubt]] : []),
  );

test('sectors of a raw disc that nothing mends are those of the files they lie in', () => {
  const { damaged } = loadExpectation<{ damaged: { lba: number }[] }>('optical/disc-flags');
  put('disc-flags.bin', loadVector('optical/disc-flags.bin'));
  put('disc-flags.cue', loadVector('optical/disc-flags.cue'));
  const found = doubtful('disc-flags.cue');
  // With the drive's own marks of bad bytes each of them is mended; without, each lies in one file.
  expect(found.reduce((sum, [, sectors]) => sum + (sectors as number), 0)).toBe(damaged.length);
  expect(indexed('disc-flags.cue')).toEqual(found);
});

test('what a sidecar beside an image says was filled in is told of its files, if it means these bytes', () => {
  const image = loadVector('volumes/fat12-720k.img');
  put('a.img', image);
  expect(doubtful('a.img')).toEqual([]);
  const [first] = filesOf('a.img').filter(({ bytes }) => bytes > 2048);
  const name = first!.path.split('/').pop()!;
  // Its first cluster, by the directory that names it.
  const [stem, ending] = name.split('.') as [string, string];
  const at = Buffer.from(image).indexOf(`${stem.padEnd(8)}${ending.padEnd(3)}`, 'latin1');
  const cluster = new DataView(image.buffer, image.byteOffset).getUint16(at + 26, true);
  const offset = (14 + (cluster - 2) * 2) * 512;
  const sidecar = (sha256: string) =>
    JSON.stringify({
      format: 'frail-spindle-sidecar',
      version: 1,
      image: { bytes: image.length, sha256, order: 'img' },
      filledIn: [{ offset, length: 512, cylinder: 0, head: 0, r: 1, with: 'zeros' }],
    });
  put('a.sidecar.json', sidecar(sha256Hex(image)));
  expect(doubtful('a.img')).toEqual([[first!.path, 1]]);
  expect(filesOf('a.img').find(({ path }) => path === first!.path)!.doubts).toEqual([
    { offset: 0, length: 512 },
  ]);
  expect(indexed('a.img')).toEqual([[first!.path, 1]]);
  expect(spindle('contents', 'a.img').stdout).toContain('(sectors in doubt: 1)');
  const taken = spindle('contents', 'a.img', '--extract', 'out').stderr;
  expect(taken).toContain(`${first!.path}: sectors in doubt: 1`);
  put('a.sidecar.json', sidecar('0'.repeat(64)));
  expect(doubtful('a.img')).toEqual([]);
});

test('a capture that was cut off tells which files it has nothing of', () => {
  put('whole.img', loadVector('volumes/fat12-720k.img'));
  const out = ['--layout', 'mfm-35-9x512', '--out', 'whole.fsflux'];
  expect(spindle('encode', 'whole.img', ...out).status).toBe(0);
  const whole = filesOf('whole.fsflux');
  expect(doubtful('whole.fsflux')).toEqual([]);
  const capture = readFileSync(inFolder('whole.fsflux'));
  put('cut.fsflux', capture.subarray(0, Math.floor(capture.length / 10)));
  const cut = filesOf('cut.fsflux');
  const sound = cut.filter(({ sectorsInDoubt }) => !sectorsInDoubt);
  // What is not in doubt is what it was, and something is in doubt.
  expect(sound.length).toBeLessThan(whole.length);
  for (const { path, sha256 } of sound)
    expect(whole.find((each) => each.path === path)!.sha256).toBe(sha256);
});
