/** `spindle serve`: the vectors as folders, every file of every volume by the digests made elsewhere. */
import { spawn, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import { askDav, walkDav } from '../../tests/support/dav';
import { spindleInFolder } from '../../tests/support/cli/spindle-in-folder';
import { loadExpectation, loadVector, sha256Hex } from '../../tests/support/vectors';

const { path: inFolder, put, spindle } = spindleInFolder();
const PROGRAM = join(__dirname, '..', '..', 'build', 'spindle.js');

let serving: ChildProcess | null = null;
afterEach(async () => {
  const ended = serving && new Promise((resolve) => serving!.once('exit', resolve));
  serving?.kill('SIGTERM');
  await ended;
  serving = null;
});

/** Answers with the address that it tells. */
async function serve(...images: string[]): Promise<string> {
  serving = spawn(process.execPath, [PROGRAM, 'serve', ...images, '--port', '0'], {
    cwd: inFolder('.'),
  });
  const told = await new Promise<string>((resolve, reject) => {
    serving!.stdout!.once('data', (line: Buffer) => resolve(line.toString()));
    serving!.once('exit', () => reject(new Error('it ended')));
  });
  return /http:\/\/127\.0\.0\.1:\d+/.exec(told)![0];
}

interface ExpectedFile {
  path: string;
  /** Other ways of writing its name that count as right. */
  also?: string[];
  bytes: number;
  sha256: string;
  modified?: string | null;
  deleted?: boolean;
  /** Its name is in a character set that nothing on the disk tells. */
  pathExact?: boolean;
}
interface Expectation {
  files: ExpectedFile[];
}
const isLive = ({ deleted, pathExact }: ExpectedFile) => !deleted && pathExact !== false;
const VECTORS = ['fat12-720k.img', 'prodos-280.po', 'd81-plain.d81', 'granule-plain.img'];

test('an image is there as it is, and each file of its volume with its bytes and its date', async () => {
  for (const name of VECTORS) put(name, loadVector(`volumes/${name}`));
  const base = await serve(...VECTORS);
  for (const name of VECTORS) {
    const { files } = loadExpectation<Expectation>(`volumes/${name.replaceAll('.', '-')}`);
    const found = await walkDav(base, `/${name}/`);
    const bytesAt = async (path: string) => (await askDav(base, 'GET', found.get(path)!.href)).body;
    expect(sha256Hex(await bytesAt(name))).toBe(sha256Hex(loadVector(`volumes/${name}`)));
    for (const { path, also = [], bytes, sha256, modified } of files.filter(isLive)) {
      const at = [path, ...also].map((each) => `files/${each}`).find((each) => found.has(each))!;
      const node = found.get(at)!;
      expect([at, node.size, sha256Hex(await bytesAt(at))]).toEqual([at, bytes, sha256]);
      if (modified) expect(new Date(node.modified)).toEqual(new Date(modified));
    }
  }
});

test('partitions are folders; samples lie there as WAV, a range of one as of any file', async () => {
  for (const name of ['mbr-small.img', 'sampler-two-partitions.img'])
    put(name, loadVector(`volumes/${name}`));
  const base = await serve('mbr-small.img', 'sampler-two-partitions.img');
  const ofDisk = [...(await walkDav(base, '/mbr-small.img/')).keys()];
  expect(ofDisk.some((path) => /^files\/[1-9]\//.test(path))).toBe(true);
  const found = await walkDav(base, '/sampler-two-partitions.img/');
  const [path, wav] = [...found].find(([each]) => each.endsWith('.wav'))!;
  expect(path).toMatch(/^sounds\//);
  const whole = (await askDav(base, 'GET', wav.href)).body;
  expect([whole.length, whole.subarray(0, 4).toString()]).toEqual([wav.size, 'RIFF']);
  const headers = { range: 'bytes=40-139' };
  const part = await askDav(base, 'GET', wav.href, { headers });
  expect([part.status, part.body]).toEqual([206, whole.subarray(40, 140)]);
});

test('hostile names stand safely, and a table says what they were', async () => {
  const name = 'bad-fat12-hostile-names.img';
  put(name, loadVector(`volumes/${name}`));
  const base = await serve(name);
  const found = await walkDav(base, `/${name}/`);
  for (const path of found.keys()) {
    expect(path.split('/')).not.toContain('..');
    expect(path).not.toMatch(/[\0-\x1f\\:*?"<>|]/);
  }
  const table = (await askDav(base, 'GET', found.get('names.csv')!.href)).body.toString();
  expect(table.trimEnd().split('\r\n')).toHaveLength(
    1 + [...found.keys()].filter((path) => path.startsWith('files/')).length,
  );
});

test.each([
  [[], 2],
  [['none.img'], 1],
  [['x.img', '--port', 'many'], 2],
])('asked for wrongly, %j, it ends with %i', (args, status) => {
  put('x.img', new Uint8Array(1024));
  expect(spindle('serve', ...args).status).toBe(status);
});
