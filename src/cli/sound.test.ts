/** `spindle sound`: lists, takes out, puts back, through the built command line. */
import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, readdirSync, symlinkSync } from 'node:fs';
import { join } from 'node:path';
import { spindleInFolder } from '../../tests/support/cli/spindle-in-folder';
import { withRoom } from '../../tests/support/sound/sampler-disks';
import { strictSfz } from '../../tests/support/sound/strict-sfz';
import { strictWav } from '../../tests/support/sound/strict-wav';
import { loadVector, sha256Hex } from '../../tests/support/vectors';

const { path, put, spindle } = spindleInFolder();

interface Listed {
  volumes: {
    partition: string | null;
    samples: { path: string; pcmSha256: string; rateHz: number; frames: number }[];
    programs: { path: string }[];
    problems: { kind: string; message: string }[];
  }[];
}
const listed = (name: string, ...more: string[]) =>
  JSON.parse(spindle('sound', name, '--json', '-', ...more).stdout) as Listed;
const files = (folder: string) =>
  readdirSync(path(folder), { recursive: true, withFileTypes: true })
    .filter((each) => each.isFile())
    .map((each) => join(each.parentPath, each.name).slice(path(folder).length + 1))
    .sort();

test.each(['h-collide', 'p-large-192', 'w-gaps'])(
  '%s is taken out whole, and its manifest tells',
  (name) => {
    put('disk.img', loadVector(`sound/${name}.img`));
    expect(spindle('sound', 'disk.img', '--out', 'out', '--json', 'list.json').status).toBe(0);
    const { files: told } = JSON.parse(readFileSync(path('out', 'manifest.json'), 'utf8')) as {
      files: { file: string; path: string; pcmSha256?: string; notCarried: string[] }[];
    };
    expect(told.map(({ file }) => file).sort()).toEqual(
      files('out').filter((file) => file !== 'manifest.json'),
    );
    const digests = new Map(
      (JSON.parse(readFileSync(path('list.json'), 'utf8')) as Listed).volumes
        .flatMap(({ samples }) => samples)
        .map((sample) => [sample.path, sample.pcmSha256]),
    );
    const wavs = told.filter(({ file }) => file.endsWith('.wav'));
    expect(wavs).toHaveLength(digests.size);
    for (const { file, path: from, pcmSha256 } of wavs) {
      const { data } = strictWav(readFileSync(path('out', file)));
      expect([sha256Hex(data), pcmSha256]).toEqual([digests.get(from), digests.get(from)]);
    }
    for (const { file } of told.filter((each) => each.file.endsWith('.sfz')))
      for (const { sample } of strictSfz(readFileSync(path('out', file), 'utf8')))
        expect(files('out')).toContain(join(file, '..', sample));
  },
);

test.each(['s-loops-several', 'w-gaps'])(
  'tools of the system read every WAV of %s, and pack it',
  (name) => {
    put('disk.img', loadVector(`sound/${name}.img`));
    spindle('sound', 'disk.img', '--out', 'out');
    for (const file of files('out').filter((each) => each.endsWith('.wav'))) {
      const info = spawnSync('sox', ['--info', path('out', file)], { encoding: 'utf8' });
      expect([info.status, info.stderr]).toEqual([0, '']);
      const packed = spawnSync('flac', ['--silent', '--keep-foreign-metadata', path('out', file)]);
      expect(packed.status).toBe(0);
      expect(
        spawnSync('flac', ['-t', '--silent', path('out', file.replace('.wav', '.flac'))]).status,
      ).toBe(0);
    }
  },
);

test.each(['s-loops-several', 'w-gaps'])(
  'packed, every sound of %s is the same WAV, loops and all, once it is unpacked',
  (name) => {
    put('disk.img', loadVector(`sound/${name}.img`));
    spindle('sound', 'disk.img', '--out', 'wav');
    expect(spindle('sound', 'disk.img', '--out', 'flac', '--flac').status).toBe(0);
    const wavs = files('wav').filter((file) => file.endsWith('.wav'));
    const packed = wavs.map((file) => file.replace(/wav$/, 'flac'));
    expect(files('flac').filter((file) => file.endsWith('.flac'))).toEqual(packed.sort());
    for (const file of wavs) {
      const flac = path('flac', file.replace(/wav$/, 'flac'));
      const back = path('flac', file);
      const unpack = ['-d', '-s', '--keep-foreign-metadata', '-o', back, flac];
      expect([['-t', '-s', flac], unpack].map((args) => spawnSync('flac', args).status)).toEqual([
        0, 0,
      ]);
      expect(Buffer.compare(readFileSync(back), readFileSync(path('wav', file)))).toBe(0);
    }
    const digestsOf = (folder: string) =>
      (
        JSON.parse(readFileSync(path(folder, 'manifest.json'), 'utf8')) as {
          files: { pcmSha256?: string }[];
        }
      ).files.map(({ pcmSha256 }) => pcmSha256);
    expect(digestsOf('flac')).toEqual(digestsOf('wav'));
    for (const file of files('flac').filter((each) => each.endsWith('.sfz')))
      for (const { sample } of strictSfz(readFileSync(path('flac', file), 'utf8')))
        expect(files('flac')).toContain(join(file, '..', sample));
  },
);

test('a rate is taken where the disk says none', () => {
  put('disk.img', loadVector('sound/w-gaps.img'));
  const rates = (...more: string[]) =>
    listed('disk.img', ...more).volumes[0]!.samples.map(({ rateHz }) => rateHz);
  expect(new Set(rates())).toEqual(new Set([29_411]));
  expect(new Set(rates('--rate', '15000'))).toEqual(new Set([15_000]));
  expect(spindle('sound', 'disk.img', '--rate', '0').status).toBe(2);
});

test('nothing is written outside the folder, nor over what is there', () => {
  put('disk.img', loadVector('sound/w-gaps.img'));
  symlinkSync(path(), path('elsewhere'));
  spindle('sound', 'disk.img', '--out', 'out');
  expect(spindle('sound', 'disk.img', '--out', 'out').status).toBe(1);
  mkdirSync(path('linked'));
  symlinkSync(path(), path('linked', 'lower-1'));
  expect(spindle('sound', 'disk.img', '--out', 'linked').status).toBe(1);
  expect(files('linked')).toEqual([]);
});

test('the contents say how long each sound is', () => {
  put('disk.img', loadVector('sound/w-gaps.img'));
  expect(spindle('contents', 'disk.img').stdout).toContain('0.102 s of sound at 29411 Hz');
});

test('what holds no sounds is told', () => {
  put('text.img', 'no sounds at all');
  const { status, stderr } = spindle('sound', 'text.img');
  expect([status, stderr]).toEqual([1, expect.stringContaining('text.img')]);
});

test('a sound is put into a volume of a sampler, new or in the place of another', () => {
  put('disk.img', withRoom(loadVector('sound/s-tuning.img'), 2));
  put('Low horn.wav', loadVector('sound/put-8bit.wav'));
  const before = listed('disk.img').volumes[0]!.samples;
  const [first] = before;
  const volume = first!.path.split('/').slice(0, 2).join('/');
  const putTo = (to: string, ...more: string[]) =>
    spindle('sound', 'disk.img', '--put', 'Low horn.wav', '--volume', volume, '--to', to, ...more);
  expect(putTo('new.img').status).toBe(0);
  const added = listed('new.img').volumes[0]!.samples;
  expect(added.filter(({ path: own }) => own !== `${volume}/LOW HORN`)).toEqual(before);
  expect(added).toHaveLength(before.length + 1);
  const name = first!.path.split('/')[2]!;
  expect(putTo('other.img', '--name', name).status).toBe(0);
  const replaced = listed('other.img').volumes[0]!.samples;
  expect(replaced.map(({ path: own }) => own)).toEqual(before.map(({ path: own }) => own));
  expect(replaced.slice(1)).toEqual(before.slice(1));
  expect(replaced[0]!.frames).not.toBe(first!.frames);
  // The image stays as it is, and nothing is written over.
  expect(listed('disk.img').volumes[0]!.samples).toEqual(before);
  expect(putTo('other.img').status).toBe(1);
  expect(putTo('none.img', '--bank', 'lower 1').status).toBe(2);
  expect(putTo('none.img', '--wave', '1').status).toBe(2);
  expect(spindle('sound', 'disk.img', '--flac').status).toBe(2);
  const nowhere = ['--volume', 'A/NOWHERE', '--to', 'none.img'];
  expect(spindle('sound', 'disk.img', '--put', 'Low horn.wav', ...nowhere).status).toBe(1);
  expect(files('')).not.toContain('none.img');
});

test('a sound is put behind the waves of a bank, and read again', () => {
  put('disk.img', loadVector('sound/w-gaps.img'));
  put('horn.wav', loadVector('sound/put-8bit.wav'));
  const done = spindle(
    'sound',
    'disk.img',
    '--put',
    'horn.wav',
    '--bank',
    'upper 1',
    '--to',
    'new.img',
  );
  expect(done.status).toBe(0);
  const [before, after] = ['disk.img', 'new.img'].map((name) => listed(name).volumes[0]!.samples);
  expect(after!.filter(({ path: own }) => own !== 'upper-1/wave-4')).toEqual(before);
  expect(after!.find(({ path: own }) => own === 'upper-1/wave-4')!.frames).toBe(2999);
});

test('of a WAV that is cut what is there is put, and that it is cut is told', () => {
  put('disk.img', loadVector('sound/w-gaps.img'));
  put('cut.wav', loadVector('sound/put-8bit.wav').subarray(0, 544));
  const args = ['--put', 'cut.wav', '--bank', 'lower 3', '--to', 'new.img'];
  const { status, stderr } = spindle('sound', 'disk.img', ...args);
  expect([status, stderr]).toEqual([0, expect.stringContaining('500 are there')]);
  const put3 = listed('new.img').volumes[0]!.samples.find((each) => /lower-3/.test(each.path));
  expect(put3!.frames).toBe(500);
});

test.each([
  ['a bank that is not there', ['--bank', 'upper 9', '--to', 'new.img'], 1],
  ['a wave that is not there', ['--bank', 'upper 1', '--wave', '9', '--to', 'new.img'], 1],
  ['the image itself', ['--bank', 'upper 1', '--to', 'disk.img'], 1],
  ['nowhere', ['--bank', 'upper 1'], 2],
])('into %s it is not put', (_, more, status) => {
  const image = loadVector('sound/w-gaps.img');
  put('disk.img', image);
  put('horn.wav', loadVector('sound/put-8bit.wav'));
  expect(spindle('sound', 'disk.img', '--put', 'horn.wav', ...more).status).toBe(status);
  expect(files('.')).toEqual(['disk.img', 'horn.wav']);
  expect(sha256Hex(readFileSync(path('disk.img')))).toBe(sha256Hex(image));
});
