/** Reading devices, listing their extents and merging copies through the built command line. */
import { spawn, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { ExtentMap } from '@/core/block/extent-map';
import { extentsFile, ExtentsFile, extentsJsonSchema, mapOfFile } from '@/core/block/extents-file';
import { seededRandom } from '@/core/bits/random';
import { LocalLink } from '@/server/platform/devices/local-link';
import { allowedDevices } from '@/server/platform/devices/allowed';
import { deviceScenario } from '../../demo/devices';
import { loadVector, sha256Hex } from '../../tests/support/vectors';

const SPINDLE = join(__dirname, '..', '..', 'bin', 'spindle');
let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'spindle-extents-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const spindle = (...args: string[]) =>
  spawnSync(process.execPath, [SPINDLE, ...args], {
    cwd: folder,
    encoding: 'utf8',
    maxBuffer: 64 << 20,
  });
const at = (name: string) => join(folder, name);
const noise = (seed: string, length: number) => {
  const random = seededRandom(seed);
  return Uint8Array.from({ length }, () => random.below(256));
};

test('the schema of the sidecar in the docs is the one in use', () => {
  expect(
    JSON.parse(readFileSync(join(__dirname, '../../docs/formats/extents.schema.json'), 'utf8')),
  ).toEqual(JSON.parse(JSON.stringify(extentsJsonSchema())));
});

test('a device is read whole, in part, and on from there', () => {
  const bytes = noise('whole', 300_000);
  writeFileSync(at('device'), bytes);
  const part = spindle('extents', 'device', '--read', '--out', 'x.img', '--to', '100');
  expect([part.status, JSON.parse(readFileSync(at('x.sidecar.json'), 'utf8')).tally]).toEqual([
    0,
    { firm: 100, mended: 0, doubtful: 0, lost: 0, unread: 485 },
  ]);
  const rest = spindle('extents', 'device', '--read', '--out', 'x.img');
  expect(rest.stderr).toContain('Every block was read.');
  // What is no whole block at the end is no block of the device.
  expect(sha256Hex(readFileSync(at('x.img')))).toBe(sha256Hex(bytes.subarray(0, 585 * 512)));
  const sidecar = ExtentsFile.parse(JSON.parse(readFileSync(at('x.sidecar.json'), 'utf8')));
  expect(sidecar).toMatchObject({
    image: { bytes: 585 * 512, sha256: sha256Hex(bytes.subarray(0, 585 * 512)) },
    extents: [{ from: 0, count: 585, grade: 'firm' }],
    filledIn: [],
  });
  expect(spindle('extents', 'device', '--read', '--out', 'x.img', '--block', '2048')).toMatchObject(
    { status: 1, stderr: expect.stringContaining('speaks of another device') },
  );
});

test('kill -9 in the middle: the same command goes on, and the result is the same', async () => {
  // Each 64 KiB begin with their own number: none may stand in another's place.
  const bytes = Buffer.alloc(48 << 20, noise('kill', 1 << 16));
  for (let i = 0; i < bytes.length >> 16; i++) bytes.writeUInt32LE(i, i << 16);
  writeFileSync(at('device'), bytes);
  for (let i = 0; i < 3; i++) {
    const child = spawn(
      process.execPath,
      [SPINDLE, 'extents', 'device', '--read', '--out', 'x.img', '--block', '512'],
      { cwd: folder, stdio: 'ignore' },
    );
    await sleep(180 + 60 * i);
    child.kill('SIGKILL');
    await new Promise((resolve) => child.on('exit', resolve));
    // Killed before there was a sidecar, it must begin anew: an image without one is not touched.
    if (!spindle('extents', 'x.sidecar.json').stderr.includes('blocks of'))
      rmSync(at('x.img'), { force: true });
  }
  expect(spindle('extents', 'device', '--read', '--out', 'x.img').status).toBe(0);
  expect(sha256Hex(readFileSync(at('x.img')))).toBe(sha256Hex(bytes));
});

test('a device that ends before it says is read as far as it goes', async () => {
  writeFileSync(at('device'), noise('cut', 200 * 512));
  const link = new LocalLink([{ id: 'x', path: at('device') }]);
  expect(await link.blockMedium('x')).toMatchObject({ blocks: 200, blockBytes: 512 });
  truncateSync(at('device'), 150 * 512 + 100);
  expect(
    await link.readBlocks('x', 512, { from: 140, count: 60, speed: null, flags: false }),
  ).toMatchObject({ got: 10, stopped: { why: 'unreadable', toldWhere: false } });
  expect(
    await link.readBlocks('x', 512, { from: 150, count: 1, speed: null, flags: false }),
  ).toMatchObject({ got: 0, stopped: { toldWhere: true } });
  await expect(
    link.readBlocks('y', 512, { from: 0, count: 1, speed: null, flags: false }),
  ).rejects.toMatchObject({ failure: 'refused' });
  link.close();
});

test('only what is listed may be read, and nothing by a path that climbs', () => {
  expect(
    allowedDevices('/dev/sdx, /srv/../srv/disk.img\nrelative/path,/dev/sdx').map(
      ({ path }) => path,
    ),
  ).toEqual(['/dev/sdx', '/srv/disk.img']);
  expect(allowedDevices('')).toEqual([]);
});

test('files that lost blocks touch are named; two damaged copies make a whole one', () => {
  const { image } = deviceScenario()[0]!;
  const blocks = image.length / 512;
  for (const [name, from, to] of [
    ['a', 1260, 1400],
    ['b', 1390, 1600],
  ] as const) {
    const map = new ExtentMap(blocks);
    map.update(0, blocks, () => ({ grade: 'firm', tries: 1, group: 0, pace: 0 }));
    map.update(from, to, () => ({ grade: 'lost', tries: 12, group: 0, pace: 0 }));
    const bytes = image.slice();
    bytes.fill(0, from * 512, to * 512);
    writeFileSync(at(`${name}.img`), bytes);
    writeFileSync(
      at(`${name}.sidecar.json`),
      JSON.stringify(extentsFile(map, { sha256: null, blockBytes: 512 })),
    );
  }
  const listed = JSON.parse(spindle('extents', 'a.img', '--json', '-').stdout);
  expect(listed.lost).toMatchObject([
    {
      from: 1260,
      count: 140,
      files: expect.arrayContaining([expect.stringMatching(/^1\/GAUGE\/G92\d\.DAT$/)]),
    },
  ]);
  const merged = spindle('extents', 'a.img', 'b.img', '--merge', '--out', 'c.img');
  expect(merged.status).toBe(0);
  expect(mapOfFile(JSON.parse(readFileSync(at('c.sidecar.json'), 'utf8'))).tally()).toMatchObject({
    lost: 10,
    firm: blocks - 10,
  });
  const wanted = image.slice();
  wanted.fill(0, 1390 * 512, 1400 * 512);
  expect(sha256Hex(readFileSync(at('c.img')))).toBe(sha256Hex(wanted));
  expect(spindle('extents', 'a.img', 'b.img', '--merge', '--out', 'c.img')).toMatchObject({
    status: 1,
    stderr: expect.stringContaining('exists already'),
  });
});

test('lost sectors of a raw disc are told by the files of its data and by its tracks of sound', () => {
  for (const end of ['bin', 'cue'])
    writeFileSync(at(`disc-mixed.${end}`), loadVector(`optical/disc-mixed.${end}`));
  const bytes = loadVector('optical/disc-mixed.bin');
  const blocks = bytes.length / 2352;
  const { volumes } = JSON.parse(spindle('contents', 'disc-mixed.cue', '--json', '-').stdout);
  const { sha256 } = volumes[0].files.find(({ path }: { path: string }) => path === 'EXACT.BIN');
  const block = Array.from({ length: blocks }, (_, i) => i).find(
    (i) => sha256Hex(bytes.subarray(i * 2352 + 16, i * 2352 + 2064)) === sha256,
  )!;
  const map = new ExtentMap(blocks);
  map.update(0, blocks, () => ({ grade: 'firm', tries: 1, group: 0, pace: 0 }));
  for (const from of [block, 200])
    map.update(from, from + 1, () => ({ grade: 'lost', tries: 12, group: 0, pace: 0 }));
  writeFileSync(
    at('disc-mixed.sidecar.json'),
    JSON.stringify(extentsFile(map, { sha256: null, blockBytes: 2352 })),
  );
  const listed = JSON.parse(spindle('extents', 'disc-mixed.bin', '--json', '-').stdout);
  expect(listed.lost).toEqual([
    { from: block, count: 1, files: ['EXACT.BIN'] },
    { from: 200, count: 1, files: ['track 2, sound'] },
  ]);
});

test.each([
  ['not JSON', 'x', 'is no JSON'],
  ['another thing', '{"format":"other"}', 'is no sidecar'],
  [
    'extents beyond the device',
    JSON.stringify({
      ...extentsFile(new ExtentMap(10), { sha256: null, blockBytes: 512 }),
      extents: [{ from: 5, count: 9, grade: 'firm', tries: 1, group: 0, pace: 0 }],
    }),
    'contradicts itself',
  ],
])('a sidecar that is %s is refused with a sentence', (_, text, said) => {
  writeFileSync(at('x.sidecar.json'), text);
  expect(spindle('extents', 'x.sidecar.json')).toMatchObject({
    status: 1,
    stderr: expect.stringContaining(said),
  });
});

test('sound of a disc as WAV, and an image of user sectors as a raw one with its sheet', () => {
  for (const end of ['bin', 'cue'])
    writeFileSync(at(`disc-mixed.${end}`), loadVector(`optical/disc-mixed.${end}`));
  const { tracks } = JSON.parse(
    spindle('disc', 'disc-mixed.cue', '--json', '-', '--sound', 'wav').stdout,
  );
  const sounds = tracks.filter(({ type }: { type: string }) => type === 'AUDIO');
  expect(sounds.length).toBeGreaterThan(0);
  for (const { number, pcmSha256 } of sounds) {
    const wav = readFileSync(at(`wav/track-${String(number).padStart(2, '0')}.wav`));
    expect([
      wav.toString('latin1', 0, 4),
      wav.readUInt32LE(40),
      sha256Hex(wav.subarray(44)),
    ]).toEqual(['RIFF', wav.length - 44, pcmSha256]);
  }
  writeFileSync(at('v.iso'), loadVector('optical/vol-plain.iso'));
  expect(spindle('disc', 'v.iso', '--raw', 'v.bin').status).toBe(0);
  const report = JSON.parse(spindle('disc', 'v.cue', '--json', '-').stdout);
  expect([report.repairable, report.unrepairable, report.userSha256]).toEqual([
    [],
    [],
    sha256Hex(loadVector('optical/vol-plain.iso')),
  ]);
});
