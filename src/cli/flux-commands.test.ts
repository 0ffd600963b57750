/**
 * The commands on captures and images of every kind, as processes: there and back, refusals, losses
 * said.
 */
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { seededRandom } from '@/core/bits/random';
import { bytesOf } from '@/core/layout/layout';
import { SHIPPED_LAYOUTS } from '@/core/layout/shipped';
import { Sidecar } from '@/core/image/sidecar-schema';
import { loadExpectation, loadVector, sha256Hex } from '../../tests/support/vectors';

const SPINDLE = join(__dirname, '..', '..', 'bin', 'spindle');
let folder: string;

beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'spindle-flux-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const spindle = (...args: string[]) =>
  spawnSync(process.execPath, [SPINDLE, ...args], {
    cwd: folder,
    encoding: 'utf8',
    maxBuffer: 64 << 20,
  });
const put = (name: string, bytes: Uint8Array | string) => {
  writeFileSync(join(folder, name), bytes);
  return name;
};
const get = (name: string) => readFileSync(join(folder, name));
const json = (name: string) => JSON.parse(get(name).toString());

test.each(SHIPPED_LAYOUTS.map(({ id }) => id))('%s: an image goes to flux and comes back', (id) => {
  const layout = SHIPPED_LAYOUTS.find((each) => each.id === id)!;
  const random = seededRandom(id);
  const image = Uint8Array.from({ length: bytesOf(layout) }, () => random.below(256));
  const as =
    id === 'gcr62-525-16x256' ? ['--as', 'do'] : id === 'mfm-35-10x512' ? ['--as', 'd81'] : [];
  expect(
    spindle('encode', put('in.img', image), '--layout', id, '--out', 'a.fsflux', ...as),
  ).toMatchObject({ status: 0 });
  expect(spindle('decode', 'a.fsflux', '--image', 'out.img', '--json', 'a.json')).toMatchObject({
    status: 0,
  });
  expect(json('a.json')).toMatchObject({
    layout: id,
    flatSha256: sha256Hex(image),
    flatBytes: image.length,
    strange: [],
  });
  expect(Buffer.compare(get('out.img'), image)).toBe(0);
});

test('decode gives other orders, status bytes, and what the group codes do not record as null', () => {
  const expected = loadExpectation<{ flatOthers: Record<string, string> }>(
    'flux/clean-gcr62-525-16x256',
  );
  put('a.fsflux', loadVector('flux/clean-gcr62-525-16x256.fsflux'));
  expect(
    spindle('decode', 'a.fsflux', '--image', 'a.po', '--to', 'po', '--json', 'a.json').status,
  ).toBe(0);
  expect(sha256Hex(get('a.po'))).toBe(expected.flatOthers['.po']);
  expect(json('a.json').sectors[0]).toMatchObject({ h: null, n: null, size: 256, grade: 'firm' });
  put('b.fsflux', loadVector('flux/light-gcr45-525-35.fsflux'));
  expect(spindle('decode', 'b.fsflux', '--image', 'b.d64', '--status').status).toBe(0);
  const status = get('b.d64').subarray(174_848);
  expect(status).toHaveLength(683);
  expect([1, 2, 5].map((value) => status.filter((each) => each === value).length)).toEqual([
    72, 610, 1,
  ]);
});

test('several captures of one disk are decoded together; passes can be chosen', () => {
  put('a.fsflux', loadVector('flux/light-mfm-35-9x512.fsflux'));
  put('b.fsflux', loadVector('flux/clean-mfm-35-9x512.fsflux'));
  expect(spindle('decode', 'a.fsflux', 'b.fsflux', '--json', 'both.json').status).toBe(0);
  expect(json('both.json').tracks[0]).toMatchObject({
    readings: 2,
    formats: ['MFM, 9 × 512, numbers 1 to 9'],
  });
  expect(spindle('decode', 'a.fsflux', '--passes', '1-', '--json', 'none.json').status).toBe(0);
  expect(json('none.json')).toMatchObject({ layout: null, sectors: [] });
});

test("a layout of the archivist's own decodes what none that ships fits", () => {
  const { status } = spindle('layouts', 'mfm-35-9x512', '--json', 'own.json');
  expect(status).toBe(0);
  const own = json('own.json');
  own.id = 'own-7x512';
  own.cylinders = 10;
  own.tracks[0].cylinders = [0, 9];
  own.tracks[0].sectors = own.tracks[0].sectors
    .slice(0, 7)
    .map(({ bytes }: { bytes: number }, i: number) => ({ r: 65 + i, bytes }));
  put('own.json', JSON.stringify(own));
  expect(spindle('layouts', '--check', 'own.json')).toMatchObject({
    status: 0,
    stderr: expect.stringContaining('own-7x512 is a usable layout'),
  });
  const image = new Uint8Array(10 * 2 * 7 * 512).map((_, i) => (i * 7) % 251);
  expect(
    spindle('encode', put('a.img', image), '--layout', 'own.json', '--out', 'a.fsflux').status,
  ).toBe(0);
  expect(spindle('decode', 'a.fsflux', '--image', 'x.img')).toMatchObject({
    status: 1,
    stderr: expect.stringContaining('--propose FILE'),
  });
  expect(
    spindle('decode', 'a.fsflux', '--propose', 'proposed.json', '--json', 'a.json').status,
  ).toBe(0);
  expect(json('a.json')).toMatchObject({
    layout: null,
    flatSha256: null,
    proposal: { cylinders: 10, heads: 2 },
  });
  for (const layout of ['own.json', 'proposed.json']) {
    expect(
      spindle('decode', 'a.fsflux', '--layout', layout, '--image', `${layout}.img`),
    ).toMatchObject({ status: 0 });
    expect(Buffer.compare(get(`${layout}.img`), image)).toBe(0);
  }
  put('bad.json', JSON.stringify({ ...own, rpm: 'fast', heads: 3 }));
  expect(spindle('layouts', '--check', 'bad.json')).toMatchObject({
    status: 1,
    stderr: expect.stringMatching(/heads: [\s\S]*rpm: /),
  });
});

test('convert refuses what would lose something until told, and says it in the sidecar', () => {
  put('some.fsflux', loadVector('flux/clean-gcr45-525-35.fsflux'));
  expect(spindle('convert', 'some.fsflux', '--to', 'd64')).toMatchObject({
    status: 1,
    stderr: expect.stringMatching(/would lose 608 sectors without sound bytes.*--accept-loss/),
  });
  expect(readdirSync(folder)).toEqual(['some.fsflux']);
  put('a.fsflux', loadVector('flux/light-gcr45-525-35.fsflux'));
  expect(spindle('convert', 'a.fsflux', '--to', 'd64', '--accept-loss').status).toBe(0);
  expect(Sidecar.parse(json('a.sidecar.json')).acceptedLosses).toEqual([
    expect.stringContaining('611 sectors'),
    expect.stringContaining('as they were made'),
  ]);
  expect(spindle('convert', 'a.fsflux', '--to', 'd64', '--accept-loss')).toMatchObject({
    status: 1,
    stderr: expect.stringContaining('exists already'),
  });
});

test('convert goes through a folder, whatever the names, and says what it left', () => {
  mkdirSync(join(folder, 'in'));
  put('in/one.bin', loadVector('volumes/prodos-280.do'));
  put('in/two.txt', loadVector('volumes/catalogue16-plain.do'));
  put('in/notes.md', 'about these disks');
  const run = spindle('convert', 'in', '--to', 'po', '--out', 'out');
  expect(run).toMatchObject({
    status: 0,
    stderr: expect.stringMatching(/notes\.md was left: [\s\S]*2 of 3 files converted/),
  });
  expect(readdirSync(join(folder, 'out'))).toEqual(['one.po', 'two.po']);
  expect(Buffer.compare(get('out/one.po'), Buffer.from(loadVector('volumes/prodos-280.po')))).toBe(
    0,
  );
});

test('an image that may be two things is not guessed at', () => {
  put('a.bin', new Uint8Array(143_360));
  expect(spindle('convert', 'a.bin', '--to', 'po')).toMatchObject({
    status: 1,
    stderr: expect.stringContaining(
      'a.bin may be do or po: nothing in it tells. Say which with --as.',
    ),
  });
  expect(spindle('convert', 'a.bin', '--to', 'po', '--as', 'do').status).toBe(0);
});

test('compare names the sectors that differ', () => {
  const image = loadVector('volumes/fat12-720k.img');
  put('a.img', image);
  put(
    'b.img',
    image.map((byte, i) => (i === 512 * 20 + 7 ? byte ^ 1 : byte)),
  );
  expect(spindle('compare', 'a.img', 'b.img')).toMatchObject({
    status: 0,
    stdout: 'cylinder 1, head 0, sector 3: differ, 1 bytes from 7\n',
    stderr: '1 differ, 1439 the same\n',
  });
  put('a.fsflux', loadVector('flux/clean-mfm-35-9x512.fsflux'));
  put('b.fsflux', loadVector('flux/light-mfm-35-9x512.fsflux'));
  expect(spindle('compare', 'a.fsflux', 'b.fsflux', '--json', 'c.json').status).toBe(0);
  expect(json('c.json').tally).toEqual({
    same: 0,
    differ: 33,
    'first-only': 3,
    'second-only': 0,
    neither: 0,
  });
  expect(spindle('decode', 'a.fsflux', '--image', 'a.d64', '--to', 'd64')).toMatchObject({
    status: 1,
    stderr: expect.stringMatching(/^spindle: a\.fsflux: mfm-35-9x512 .* img, dsk\.\n$/),
  });
  put('c.fsflux', loadVector('flux/clean-fm-8-26x128.fsflux'));
  expect(spindle('compare', 'a.fsflux', 'c.fsflux')).toMatchObject({
    status: 1,
    stderr: expect.stringContaining('nothing to compare'),
  });
});
