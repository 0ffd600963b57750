/**
 * The built command line as a process, from another folder: outputs, exit codes, and hostile input.
 */
import { spawnSync } from 'node:child_process';
import {
  mkdtempSync,
  readFileSync,
  readdirSync,
  rmSync,
  symlinkSync,
  writeFileSync,
  mkdirSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buildFat12 } from '../../demo/fat-builder';
import { hornProgram } from '../../demo/horn-program';
import { shippedLayout } from '../core/layout/shipped';
import { loadExpectation, loadVector, sha256Hex } from '../../tests/support/vectors';

const SPINDLE = join(__dirname, '..', '..', 'bin', 'spindle');
let folder: string;

beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'spindle-cli-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const spindle = (...args: string[]) =>
  spawnSync(process.execPath, [SPINDLE, ...args], {
    cwd: folder,
    encoding: 'utf8',
    maxBuffer: 64 << 20,
  });

function put(name: string, bytes: Uint8Array): string {
  writeFileSync(join(folder, name), bytes);
  return name;
}

test('files of two partitions that lie at the same places within theirs have digests of their own', () => {
  const image = loadVector('volumes/mbr-small.img').slice();
  const [first, second, sectors] = [17 * 512, 442 * 512, 408 * 512];
  // The same volume twice, but for one letter of its file.
  image.copyWithin(second, first, first + sectors);
  image[second + 9 * 512]! ^= 0x20;
  spindle('index', put('house.img', image), '--json', 'index.json');
  const rows = JSON.parse(readFileSync(join(folder, 'index.json'), 'utf8')) as {
    partition: number;
    sha256: string;
  }[];
  const digests = [0, 1].map((i) => {
    const from = (i === 0 ? first : second) + 9 * 512;
    return sha256Hex(image.subarray(from, from + 1500));
  });
  expect(rows.slice(0, 2).map(({ partition, sha256 }) => [partition, sha256])).toEqual([
    [1, digests[0]],
    [2, digests[1]],
  ]);
});

test('a reader that goes away stops nothing that was asked for', () => {
  put('old.img', loadVector('volumes/fat12-720k.img'));
  const command = `"${process.execPath}" "${SPINDLE}" contents old.img --json - --extract out; echo $? >&2`;
  const { stderr } = spawnSync('bash', ['-c', `{ ${command}; } | true`], {
    cwd: folder,
    encoding: 'utf8',
  });
  expect(stderr.trim().split('\n').at(-1)).toBe('0');
  expect(readdirSync(join(folder, 'out')).length).toBeGreaterThan(8);
});

test('decode writes JSON, image and sidecar that agree', () => {
  const expected = loadExpectation<{
    flatSha256: string;
    flatBytes: number;
    sectors: { grade: string }[];
  }>('flux/light-mfm-35-18x512');
  const { status } = spindle(
    'decode',
    put('a.fsflux', loadVector('flux/light-mfm-35-18x512.fsflux')),
    '--json',
    'a.json',
    '--image',
    'a.img',
    '--sidecar',
    'a.sidecar.json',
  );
  expect(status).toBe(0);
  const json = JSON.parse(readFileSync(join(folder, 'a.json'), 'utf8'));
  expect(json).toMatchObject({
    layout: 'mfm-35-18x512',
    container: { complete: true, problems: [] },
    flatSha256: expected.flatSha256,
    flatBytes: expected.flatBytes,
  });
  expect(sha256Hex(readFileSync(join(folder, 'a.img')))).toBe(expected.flatSha256);
  const sidecar = JSON.parse(readFileSync(join(folder, 'a.sidecar.json'), 'utf8'));
  expect(sidecar.image.sha256).toBe(expected.flatSha256);
  expect(sidecar.tally).toMatchObject({ firm: 69, doubtful: 1, lost: 2 });
  // The doubtful sector's bytes are in the sidecar, not in the image, unless they are asked for.
  const doubtful = sidecar.sectors.find(({ grade }: { grade: string }) => grade === 'doubtful');
  expect(doubtful.keptBytes).toHaveLength(1024);
  expect(
    spindle(
      'decode',
      'a.fsflux',
      '--keep-doubtful',
      '--image',
      'b.img',
      '--sidecar',
      'b.sidecar.json',
    ).status,
  ).toBe(0);
  const place = sidecar.filledIn.find(
    ({ cylinder, head, r }: { cylinder: number; head: number; r: number }) =>
      cylinder === doubtful.cylinder && head === doubtful.head && r === doubtful.r,
  );
  expect(
    readFileSync(join(folder, 'b.img'))
      .subarray(place.offset, place.offset + 512)
      .toString('hex'),
  ).toBe(doubtful.keptBytes);
  expect(JSON.parse(readFileSync(join(folder, 'b.sidecar.json'), 'utf8')).filledIn).toContainEqual({
    ...place,
    with: 'doubtful bytes',
  });
});

test('contents gives the volume as the schema says, on standard output', () => {
  const expected = loadExpectation<{ freeBytes: number; files: unknown[] }>(
    'volumes/fat12-720k-img',
  );
  const { status, stdout } = spindle(
    'contents',
    put('v.img', loadVector('volumes/fat12-720k.img')),
    '--json',
    '-',
  );
  expect(status).toBe(0);
  const { volumes, problems } = JSON.parse(stdout);
  expect(problems).toEqual([]);
  expect(volumes).toEqual([
    expect.objectContaining({
      filesystem: 'fat12',
      partition: null,
      label: 'SKERROW',
      offset: 0,
      length: 737280,
      freeBytes: expected.freeBytes,
      problems: [],
    }),
  ]);
  expect(volumes[0].files).toHaveLength(expected.files.length);
  expect(Object.keys(volumes[0].files[0])).toEqual([
    'path',
    'bytes',
    'sha256',
    'locked',
    'modified',
    'deleted',
    'recoverable',
    'damaged',
  ]);
});

test('an image kept as a file on another is told of, opened, indexed and taken out, with texts beside it', () => {
  const inner = buildFat12(shippedLayout('mfm-525-9x512')!, 'INNER', [
    { path: 'HORN.BAS', bytes: hornProgram(), modified: '1987-02-11T14:20:00' },
    {
      path: 'NOTE.TXT',
      bytes: Buffer.from('Caf\x82\r\n', 'latin1'),
      modified: '1987-02-11T14:20:00',
    },
  ]);
  const image = put(
    'outer.img',
    buildFat12(shippedLayout('mfm-35-18x512')!, 'OUTER', [
      { path: 'OLD/DISK.IMG', bytes: inner, modified: '1991-01-01T00:00:00' },
    ]),
  );
  const { volumes, inside } = JSON.parse(spindle('contents', image, '--json', '-').stdout);
  expect(volumes).toMatchObject([
    { filesystem: 'fat12', label: 'OUTER', files: [{ path: 'OLD/DISK.IMG' }] },
  ]);
  expect(inside).toMatchObject([
    {
      filesystem: 'fat12',
      label: 'INNER',
      inside: 'OLD/DISK.IMG',
      files: [
        { path: 'HORN.BAS' },
        { path: 'NOTE.TXT', sha256: sha256Hex(Buffer.from('Caf\x82\r\n', 'latin1')) },
      ],
    },
  ]);
  expect(spindle('contents', image).stderr).toContain(
    'OLD/DISK.IMG is itself an image: fat12, 2 files',
  );
  expect(
    spindle('contents', image, '--inside', 'OLD/DISK.IMG', '--extract', 'out', '--text').status,
  ).toBe(0);
  expect(readdirSync(join(folder, 'out')).sort()).toEqual([
    'HORN.BAS',
    'HORN.BAS.utf-8.txt',
    'NOTE.TXT',
    'NOTE.TXT.utf-8.txt',
  ]);
  expect(readFileSync(join(folder, 'out', 'NOTE.TXT.utf-8.txt'), 'utf8')).toBe('Café\n');
  expect(readFileSync(join(folder, 'out', 'HORN.BAS.utf-8.txt'), 'utf8')).toContain(
    '20 CLS:PRINT "FOG SIGNAL OF THE NORTH MOLE"',
  );
  expect(spindle('contents', image, '--inside', 'NONE.IMG')).toMatchObject({
    status: 1,
    stderr: expect.stringContaining('There is one at OLD/DISK.IMG'),
  });
  expect(spindle('index', image).stdout).toContain('\tOLD/DISK.IMG/NOTE.TXT\t');
});

test('a folder of unknown files is identified by content, and indexed as CSV that no spreadsheet runs', () => {
  mkdirSync(join(folder, 'box'));
  for (const name of [
    'd64-plain.d64',
    'prodos-280.do',
    'granule-plain.img',
    'bad-fat12-hostile-names.img',
  ])
    put(`box/${name.replace(/\W/g, '_')}.bin`, loadVector(`volumes/${name}`));
  put('box/notes.txt', Buffer.from('no disk'));
  const marked = Buffer.alloc(9000);
  marked.write('NTFS    ', 3, 'latin1');
  put('box/of-another-kind.bin', marked);
  const identified = JSON.parse(spindle('identify', join(folder, 'box'), '--json', '-').stdout) as {
    path: string;
    findings: { filesystem: string }[];
  }[];
  expect(identified.map(({ findings }) => findings[0]?.filesystem ?? null)).toEqual([
    'fat12',
    'd64',
    'granule',
    null,
    'NTFS',
    'prodos',
  ]);
  expect(spindle('identify', join(folder, 'box')).stdout).toMatch(
    /d64_plain_d64\.bin: d64, \d+ %: track 18 sector 0 leads to the directory/,
  );
  const { stdout, stderr } = spindle('index', join(folder, 'box'), '--csv', '-');
  const lines = stdout.trimEnd().split('\r\n');
  expect(lines[0]).toBe(
    'image,partition,filesystem,label,path,type,bytes,modified,locked,deleted,recoverable,damaged,sha256,inside,inDoubt',
  );
  expect(lines.filter((line) => line.includes(',d64,'))).toHaveLength(8);
  // No cell begins as a formula, and no name moves a terminal's cursor.
  expect(stdout).not.toMatch(/(^|,)"?[=+@-][^,]*[A-Za-z(]/m);
  expect(stdout + stderr).not.toMatch(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f]/);
});

test('a CP/M disk is read by a parameter set from a file; a file that is none is answered', () => {
  const image = put('cpm.img', loadVector('volumes/cpm-8inch.img'));
  const { diskParameters, files } = loadExpectation<{ diskParameters: object; files: unknown[] }>(
    'volumes/cpm-8inch-img',
  );
  const given = put('parameters.json', Buffer.from(JSON.stringify(diskParameters)));
  const { volumes } = JSON.parse(
    spindle('contents', image, '--layout', given, '--json', '-').stdout,
  );
  expect(volumes).toMatchObject([
    { filesystem: 'cpm', reasons: ['its disk parameter set was given'] },
  ]);
  expect(volumes[0].files).toHaveLength(files.length);
  expect(
    spindle('contents', image, '--layout', put('wrong.json', Buffer.from('{"blockSize": 1000}'))),
  ).toMatchObject({ status: 1, stderr: expect.stringContaining('is no disk parameter set') });
});

test('extraction stays in its folder whatever the names, and writes over nothing', () => {
  const image = put('h.img', loadVector('volumes/bad-fat12-hostile-names.img'));
  expect(spindle('contents', image, '--extract', 'out').status).toBe(0);
  expect(readdirSync(folder).sort()).toEqual(['h.img', 'out']);
  expect(readdirSync(join(folder, 'out'))).toEqual(['ODD', 'PLAIN.TXT']);
  expect(readdirSync(join(folder, 'out', 'ODD'))).toHaveLength(17);
  const again = spindle('contents', image, '--extract', 'out');
  expect(again.status).toBe(1);
  expect(again.stderr).toContain('exists already');
});

test('a link in the way is not followed', () => {
  mkdirSync(join(folder, 'out'));
  mkdirSync(join(folder, 'elsewhere'));
  symlinkSync(join(folder, 'elsewhere'), join(folder, 'out', 'ODD'));
  expect(
    spindle(
      'contents',
      put('h.img', loadVector('volumes/bad-fat12-hostile-names.img')),
      '--extract',
      'out',
    ).status,
  ).toBe(1);
  expect(readdirSync(join(folder, 'elsewhere'))).toEqual([]);
});

test.each([
  [['decode'], 2, 'takes one capture'],
  [['decode', 'a', 'b'], 1, "a can't be read"],
  [['decode', '--passes', 'x', 'a'], 2, '--passes'],
  [['decode', '--layout', 'none', 'a'], 2, 'there is no layout none'],
  [['decode', 'none.fsflux'], 1, "none.fsflux can't be read (ENOENT)"],
  [['decode', '--speed', 'a'], 2, '--speed'],
  [['contents', '.'], 1, 'is no file'],
  [['launder', 'x'], 2, 'no command launder'],
  [[], 2, 'Usage'],
])('%j ends with %i', (args, status, message) => {
  const run = spindle(...args);
  expect(run.status).toBe(status);
  expect(run.stderr).toContain(message);
});

test('what is no capture, and an image without a volume, get a sentence', () => {
  const noise = put(
    'noise.bin',
    Uint8Array.from({ length: 40_960 }, (_, i) => (i * 31) % 251),
  );
  expect(spindle('decode', noise)).toMatchObject({
    status: 1,
    stderr: expect.stringContaining('is no flux capture'),
  });
  const { status, stdout } = spindle('contents', noise, '--json', '-');
  expect(status).toBe(0);
  expect(JSON.parse(stdout)).toMatchObject({ volumes: [], problems: [{ kind: 'unknown-format' }] });
});
