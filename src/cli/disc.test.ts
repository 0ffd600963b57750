/**
 * Discs and packed images through the built command line: against the vectors, and against lies.
 */
import { spawnSync } from 'node:child_process';
import { readFileSync, readdirSync } from 'node:fs';
import { loadExpectation, loadVector, sha256Hex } from '../../tests/support/vectors';
import { spindleInFolder } from '../../tests/support/cli/spindle-in-folder';

const { path: inFolder, put, spindle } = spindleInFolder();
const putDisc = (name: string) => {
  put(`${name}.bin`, loadVector(`optical/${name}.bin`));
  return put(`${name}.cue`, loadVector(`optical/${name}.cue`));
};
interface Expectation {
  good: number;
  repairable: number[];
  unrepairable: number[];
  userSha256: string;
  tracks: object[];
  volume?: { filesystem: string; label: string; files: { path: string; sha256: string }[] };
  damaged?: { lba: number; rawSha256: string | null }[];
}

test.each(['disc-clean', 'disc-edges', 'disc-light', 'disc-mixed', 'disc-mode2', 'disc-scrambled'])(
  'disc %s, by its sheet and by its image',
  (name) => {
    const { good, repairable, unrepairable, userSha256, tracks, volume } =
      loadExpectation<Expectation>(`optical/${name}`);
    const sheet = putDisc(name);
    for (const path of [sheet, `${name}.bin`]) {
      const { status, stdout } = spindle('disc', path, '--json', '-');
      const json = JSON.parse(stdout);
      expect([status, json.good, json.repairable, json.unrepairable, json.userSha256]).toEqual([
        0,
        good,
        repairable,
        unrepairable,
        userSha256,
      ]);
      expect(json.tracks).toMatchObject(tracks);
      if (volume)
        expect([
          json.volume.filesystem,
          json.volume.label,
          json.volume.files
            .map(({ path: at, sha256 }: { path: string; sha256: string }) => [at, sha256])
            .sort(),
        ]).toEqual([
          volume.filesystem,
          volume.label,
          volume.files.map(({ path: at, sha256 }) => [at, sha256]).sort(),
        ]);
    }
  },
);

test('flags of the drive mend what else is lost, and the mended image is written once', () => {
  const { repairable, damaged } = loadExpectation<Expectation>('optical/disc-flags');
  const sheet = putDisc('disc-flags');
  const flags = put('f.flags', loadVector('optical/disc-flags.flags'));
  expect(JSON.parse(spindle('disc', sheet, '--json', '-').stdout).unrepairable).toEqual(repairable);
  const { status, stdout } = spindle(
    'disc',
    sheet,
    '--flags',
    flags,
    '--repair',
    'out.bin',
    '--json',
    '-',
  );
  expect([status, JSON.parse(stdout).repairable]).toEqual([0, repairable]);
  const out = readFileSync(inFolder('out.bin'));
  for (const { lba, rawSha256 } of damaged!)
    expect(sha256Hex(out.subarray(lba * 2352, (lba + 1) * 2352))).toBe(rawSha256);
  expect(JSON.parse(spindle('disc', 'out.bin', '--json', '-').stdout)).toMatchObject({
    good: 45,
    repairable: [],
    unrepairable: [],
  });
  expect(spindle('disc', sheet, '--repair', 'out.bin')).toMatchObject({
    status: 1,
    stderr: expect.stringContaining('exists already'),
  });
});

test('further readings of a disc mend what none of them gives alone, and lies about them are told', () => {
  const sheet = putDisc('disc-clean');
  const image = loadVector('optical/disc-clean.bin');
  const { userSha256 } = loadExpectation<Expectation>('optical/disc-clean');
  const damaged = (step: number) => {
    const bytes = image.slice();
    for (let at = 2352 + step; at < bytes.length; at += 19 + step) bytes[at]! ^= 0x55;
    return bytes;
  };
  put('disc-clean.bin', damaged(1));
  put('b.bin', damaged(2));
  put('c.bin', damaged(3));
  const run = (...args: string[]) =>
    JSON.parse(spindle('disc', sheet, ...args, '--json', '-').stdout) as Expectation;
  expect(run().unrepairable.length).toBeGreaterThan(20);
  expect(run('--also', 'b.bin', '--also', 'c.bin', '--repair', 'out.bin')).toMatchObject({
    unrepairable: [],
    userSha256,
  });
  expect(Buffer.compare(readFileSync(inFolder('out.bin')), image)).toBe(0);
  put('none.bin', new Uint8Array(4 * 2352));
  expect(spindle('disc', sheet, '--also', 'none.bin')).toMatchObject({
    status: 1,
    stderr: expect.stringContaining('none.bin'),
  });
  put('f', new Uint8Array(294));
  expect(spindle('disc', sheet, '--flags', 'f', '--flags', 'f').status).toBe(2);
});

test('identify knows a raw disc by its sectors and a packed image by its index', () => {
  putDisc('disc-clean');
  const iso = put('a.iso', loadVector('optical/vol-plain.iso'));
  expect(spindle('pack', iso).status).toBe(0);
  const found = JSON.parse(
    spindle('identify', 'disc-clean.bin', 'a.iso.gz', '--json', '-').stdout,
  ) as { findings: { filesystem: string; reasons: string[] }[] }[];
  expect(found.map(({ findings }) => findings[0]!.filesystem)).toEqual(['raw-disc', 'packed']);
  expect(found[0]!.findings[0]!.reasons[0]).toMatch(/mode 1; their data are iso9660$/);
});

test('contents gives every view of a disc, and opens raw and scrambled ones', () => {
  const expected = loadExpectation<{
    joliet: { path: string; sha256: string }[];
    rockridge: { path: string; link?: string }[];
  }>('optical/vol-joliet-rr');
  const {
    volumes: [volume],
  } = JSON.parse(
    spindle('contents', put('a.iso', loadVector('optical/vol-joliet-rr.iso')), '--json', '-')
      .stdout,
  );
  expect(
    volume.joliet
      .map(({ path, sha256 }: { path: string; sha256: string }) => [path, sha256])
      .sort(),
  ).toEqual(expected.joliet.map(({ path, sha256 }) => [path, sha256]).sort());
  expect(
    volume.rockridge.map(({ path, link }: { path: string; link?: string }) => [path, link]).sort(),
  ).toEqual(expected.rockridge.map(({ path, link }) => [path, link]).sort());
  const past = loadExpectation<{ files: { path: string; sha256: string | null }[] }>(
    'optical/vol-past-end',
  );
  const {
    volumes: [cut],
  } = JSON.parse(
    spindle('contents', put('b.iso', loadVector('optical/vol-past-end.iso')), '--json', '-').stdout,
  );
  expect(
    cut.files
      .map(({ path, sha256 }: { path: string; sha256: string | null }) => [path, sha256])
      .sort(),
  ).toEqual(past.files.map(({ path, sha256 }) => [path, sha256]).sort());
  putDisc('disc-scrambled');
  expect(spindle('contents', 'disc-scrambled.bin', '--extract', 'out').status).toBe(0);
  expect(readdirSync(inFolder('out')).sort()).toEqual([
    'CHARTS',
    'EMPTY.DAT',
    'EXACT.BIN',
    'EXACT1.BIN',
    'ONE.BIN',
    'README.TXT',
    'TIDES',
  ]);
});

test('a sheet reads nothing outside its folder, and what is missing is named', () => {
  put(
    'evil.cue',
    'FILE "../../../../etc/passwd" BINARY\n TRACK 01 MODE1/2352\n INDEX 01 00:00:00\n',
  );
  expect(spindle('disc', 'evil.cue')).toMatchObject({
    status: 1,
    stderr: expect.stringContaining('names "passwd", which is not beside it'),
  });
  // One such sheet in a folder does not keep the rest from the list.
  put('tides.d64', loadVector('volumes/d64-plain.d64'));
  expect(spindle('index', inFolder())).toMatchObject({
    status: 0,
    stdout: expect.stringContaining('TIDES 1987'),
    stderr: expect.stringContaining('which is not beside it'),
  });
  expect(
    spindle(
      'disc',
      put(
        'noise.bin',
        Uint8Array.from({ length: 9000 }, (_, i) => i & 0xff),
      ),
    ),
  ).toMatchObject({
    status: 1,
    stderr: expect.stringContaining('neither a cue sheet nor an image of raw sectors'),
  });
});

test('packing: any gunzip takes it, contents opens it packed, unpacking proves it', () => {
  const bytes = loadVector('volumes/fat12-720k.img');
  const image = put('disk.img', bytes);
  expect(spindle('pack', image)).toMatchObject({ status: 0 });
  expect(
    sha256Hex(spawnSync('gunzip', ['-c', inFolder('disk.img.gz')], { maxBuffer: 64 << 20 }).stdout),
  ).toBe(sha256Hex(bytes));
  const plain = JSON.parse(spindle('contents', image, '--json', '-').stdout);
  expect(JSON.parse(spindle('contents', 'disk.img.gz', '--json', '-').stdout)).toEqual(plain);
  expect(spindle('unpack', 'disk.img.gz', '--out', 'again.img')).toMatchObject({
    status: 0,
    stderr: expect.stringContaining(sha256Hex(bytes)),
  });
  expect(sha256Hex(readFileSync(inFolder('again.img')))).toBe(sha256Hex(bytes));
  expect(spindle('unpack', 'disk.img.gz')).toMatchObject({
    status: 1,
    stderr: expect.stringContaining('exists already'),
  });
  const hurt = readFileSync(inFolder('disk.img.gz'));
  hurt[2000]! ^= 1;
  expect(spindle('unpack', put('hurt.gz', hurt), '--out', 'hurt.img')).toMatchObject({
    status: 1,
    stderr: expect.stringContaining('Chunk 1 of the packed file is damaged'),
  });
  expect(readdirSync(inFolder())).not.toContain('hurt.img');
  expect(spindle('contents', 'hurt.gz')).toMatchObject({
    status: 1,
    stderr: expect.stringMatching(/^spindle: Chunk 1 of the packed file is damaged/),
  });
  expect(spindle('pack', image, '--try')).toMatchObject({
    status: 0,
    stderr: expect.stringMatching(
      /1 file, 737\u2009280 bytes: about [\d\u2009]+ packed, [\d\u2009]+ saved, in about .+ or less/,
    ),
  });
  expect(
    spindle(
      'unpack',
      put('other.gz', spawnSync('gzip', ['-c', inFolder(image)], { maxBuffer: 64 << 20 }).stdout),
      '--out',
      'x',
    ),
  ).toMatchObject({ status: 1, stderr: expect.stringContaining('gunzip unpacks it') });
});
