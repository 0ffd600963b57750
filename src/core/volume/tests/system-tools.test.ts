/**
 * Volumes made by the system's own tools, where they are there (`scripts/test.mjs` installs them):
 * FAT by dosfstools and filled by mtools, discs by genisoimage, UDF by udftools. Whatever those wrote
 * is read as it was given to them.
 */
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  rmSync,
  symlinkSync,
  truncateSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { memorySource } from '../../bits/byte-source';
import { seededRandom } from '../../bits/random';
import { identifyVolumes } from '../../identify/identify';
import { openDisc, viewsOf, type ViewName } from '../disc-volume';
import type { Volume } from '../volume';

const FOLDERS = ['/usr/bin', '/usr/sbin', '/sbin'];
const pathOf = (tool: string) =>
  FOLDERS.map((folder) => join(folder, tool)).find((path) => existsSync(path)) ?? null;
const testWith = (...tools: string[]) => (tools.every(pathOf) ? test : test.skip);

function run(tool: string, args: readonly string[]): string {
  const { status, stdout, stderr } = spawnSync(pathOf(tool)!, args, {
    encoding: 'utf8',
    env: { ...process.env, MTOOLS_SKIP_CHECK: '1', LC_ALL: 'C.UTF-8', TZ: 'UTC' },
  });
  if (status !== 0) throw new Error(`${tool} ${args.join(' ')}: ${stderr}`);
  return stdout;
}

let folder: string;
beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'spindle-tools-'))));
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const sha256 = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');
const bytesOf = (seed: string, count: number) => {
  const random = seededRandom(seed);
  return Uint8Array.from({ length: count }, () => random.below(256));
};

const MOMENT = Date.UTC(1994, 2, 14, 9, 26, 52) / 1000;

/** Writes files below a folder; what they hold by their paths. */
function writeTree(root: string, sizes: Readonly<Record<string, number>>) {
  const digests = new Map<string, string>();
  for (const [path, size] of Object.entries(sizes)) {
    const bytes = bytesOf(path, size);
    const at = join(root, path);
    mkdirSync(dirname(at), { recursive: true });
    writeFileSync(at, bytes);
    utimesSync(at, MOMENT, MOMENT);
    digests.set(path, sha256(bytes));
  }
  return digests;
}

async function readTree(volume: Volume, entries = volume.entries) {
  const digests = new Map<string, string>();
  for (const entry of entries)
    if (entry.kind === 'file' && !entry.deleted && entry.link === undefined)
      digests.set(entry.path, sha256(await volume.read(entry)));
  return digests;
}

const sorted = (digests: ReadonlyMap<string, string>) => [...digests].sort();

async function onlyVolume(path: string): Promise<Volume> {
  const { volumes, problems } = await identifyVolumes(memorySource(readFileSync(path)));
  expect(problems).toEqual([]);
  expect(volumes).toHaveLength(1);
  return volumes[0]!.volume;
}

/** Sizes about those of a cluster, names of every kind, and more in a folder than a cluster names. */
const fatTree = (clusterBytes: number, most: number): Record<string, number> => ({
  'EMPTY.DAT': 0,
  'ONE.DAT': 1,
  'WHOLE.DAT': clusterBytes,
  'UNDER.DAT': clusterBytes - 1,
  'OVER.DAT': clusterBytes + 1,
  'a name longer than eight and three.text': 700,
  'Mixed.Case': 33,
  'zwölf Körbe.txt': 12,
  'lower.txt': 5,
  'two  spaces and a + sign [1].txt': 9,
  'DEEP/DEEPER/DEEPEST/AT LAST.TXT': 3 * clusterBytes + 17,
  ...Object.fromEntries(Array.from({ length: most }, (_, i) => [`MANY/FILE${i}.TXT`, i % 7])),
});

const FAT: [string, string[], number, number][] = [
  ['12 bits, a floppy', ['-F', '12', '-s', '1', '-C'], 1440, 60],
  ['12 bits, two sectors a cluster', ['-F', '12', '-s', '2', '-r', '112', '-C'], 720, 40],
  ['12 bits, one table', ['-F', '12', '-f', '1', '-s', '8', '-C'], 4096, 30],
  ['16 bits', ['-F', '16', '-s', '4', '-C'], 16_384, 80],
  ['16 bits, sectors of 2,048 bytes', ['-F', '16', '-S', '2048', '-s', '1', '-C'], 16_384, 80],
  ['32 bits', ['-F', '32', '-s', '1', '-C'], 40_960, 200],
  ['32 bits, eight sectors a cluster', ['-F', '32', '-s', '8', '-C'], 300_000, 20],
];

describe.each(FAT)('FAT of %s', (_, args, kilobytes, most) => {
  const sector = Number(args[args.indexOf('-S') + 1]) || 512;
  const cluster = Number(args[args.indexOf('-s') + 1]) * sector;

  testWith(
    'mkfs.fat',
    'mcopy',
    'mdel',
    'mattrib',
    'mdir',
  )('is listed and read as it was filled', async () => {
    const image = join(folder, 'x.img');
    const [kept, gone] = ['kept', 'gone'].map((name) => join(folder, name)) as [string, string];
    const small = kilobytes > 100_000 ? { 'A.TXT': 1, 'DEEP/B.TXT': cluster + 1 } : null;
    const digests = writeTree(kept, small ?? fatTree(cluster, most));
    const goneBytes = bytesOf('gone', cluster + 9);
    writeFileSync(gone, goneBytes);
    run('mkfs.fat', [...args.slice(0, -1), '-n', 'FOG 1994', '-C', image, String(kilobytes)]);
    const top = [...new Set([...digests.keys()].map((path) => path.split('/')[0]!))];
    run('mcopy', ['-s', '-m', '-i', image, ...top.map((name) => join(kept, name)), '::/']);
    run('mattrib', ['+r', '-i', image, '::/' + (small ? 'A.TXT' : 'ONE.DAT')]);
    run('mcopy', ['-i', image, gone, '::/GONE.BIN']);
    run('mdel', ['-i', image, '::/GONE.BIN']);

    const volume = await onlyVolume(image);
    expect(volume.filesystem).toBe(`fat${args[1]}`);
    expect(volume.label).toBe('FOG 1994');
    expect(volume.problems).toEqual([]);
    expect(sorted(await readTree(volume))).toEqual(sorted(digests));

    const file = volume.entries.find(({ path }) => path === (small ? 'A.TXT' : 'ONE.DAT'))!;
    expect([file.locked, file.modified]).toEqual([true, '1994-03-14T09:26:52']);
    const deleted = volume.entries.filter((entry) => entry.deleted && entry.kind === 'file');
    expect(deleted.map(({ bytes, recoverable }) => [bytes, recoverable])).toEqual([
      [goneBytes.length, 'whole'],
    ]);
    expect(sha256(await volume.read(deleted[0]!))).toBe(sha256(goneBytes));

    const free = /([\d ]+) bytes free/.exec(run('mdir', ['-i', image, '::/']))![1]!;
    expect(volume.freeBytes).toBe(Number(free.replaceAll(' ', '')));
  });
});

const DISC_TREE: Record<string, number> = {
  'README.TXT': 120,
  'empty.bin': 0,
  'exactly.bin': 2048,
  'Recordings/Low tide, first take.aiff': 5000,
  'Recordings/zwölf.aiff': 2049,
  'Recordings/.hidden': 10,
  'a/b/c/d/e/f/g/h/i/nine levels down.txt': 77,
  ...Object.fromEntries(Array.from({ length: 120 }, (_, i) => [`many/sheet ${i}.tab`, i])),
};

async function discViews(path: string) {
  const volume = await openDisc(memorySource(readFileSync(path)), 'iso9660');
  const entriesOf = (name: ViewName) => viewsOf(volume).find((view) => view.name === name)!.entries;
  const views = {
    iso9660: volume.entries,
    joliet: entriesOf('joliet'),
    rockridge: entriesOf('rockridge'),
  };
  return { volume, views };
}

describe('a disc', () => {
  testWith('genisoimage')('is read in every view that it has', async () => {
    const [tree, image] = [join(folder, 'tree'), join(folder, 'x.iso')];
    const digests = writeTree(tree, DISC_TREE);
    symlinkSync('../README.TXT', join(tree, 'many', 'up'));
    // The other views have no links: what stands there for one is a file of nothing.
    const unlinked = new Map([...digests, ['many/up', sha256(new Uint8Array(0))]]);
    run('genisoimage', [
      ...['-quiet', '-R', '-J', '-joliet-long', '-iso-level', '3', '-V', 'LOW_TIDE'],
      ...['-input-charset', 'utf-8', '-o', image, tree],
    ]);
    const { volume, views } = await discViews(image);
    expect([volume.label, volume.problems]).toEqual(['LOW_TIDE', []]);
    expect(sorted(await readTree(volume, views.rockridge))).toEqual(sorted(digests));
    expect(sorted(await readTree(volume, views.joliet))).toEqual(sorted(unlinked));
    // Its short names are others; what they hold is not.
    const short = await readTree(
      volume,
      views.iso9660.filter(({ bytes }) => bytes > 0),
    );
    const contents = [...digests].flatMap(([path, digest]) => (DISC_TREE[path]! > 0 ? digest : []));
    expect([...short.values()].sort()).toEqual(contents.sort());
    expect([...short.keys()].filter((path) => !/^[A-Z0-9_./]+$/.test(path))).toEqual([]);
    const link = views.rockridge.find(({ path }) => path === 'many/up')!;
    expect(link.link).toBe('../README.TXT');
    const dated = views.rockridge.find(({ path }) => path === 'README.TXT')!;
    expect(dated.modified).toBe('1994-03-14T09:26:52');
  });

  testWith('genisoimage')('of two sessions shows what the second left and changed', async () => {
    const [first, second] = [join(folder, 'first'), join(folder, 'second')];
    const [one, two] = [join(folder, '1.iso'), join(folder, '2.iso')];
    const kept = writeTree(first, { 'KEPT.TXT': 500, 'CHANGED.TXT': 600 });
    run('genisoimage', ['-quiet', '-R', '-V', 'ONE', '-o', one, first]);
    const sectors = readFileSync(one).length / 2048;
    const begins = Math.ceil(sectors / 32) * 32;
    mkdirSync(second);
    writeFileSync(join(second, 'CHANGED.TXT'), bytesOf('anew', 700));
    writeFileSync(join(second, 'NEW.TXT'), bytesOf('new', 800));
    run('genisoimage', [
      ...['-quiet', '-R', '-V', 'TWO', '-C', `0,${begins}`, '-M', one],
      ...['-o', two, second],
    ]);
    const disc = new Uint8Array(begins * 2048 + readFileSync(two).length);
    disc.set(readFileSync(one), 0);
    disc.set(readFileSync(two), begins * 2048);
    const { volumes } = await identifyVolumes(memorySource(disc));
    const newest = volumes.find(({ volume }) => volume.label === 'TWO')!;
    expect(sorted(await readTree(newest.volume))).toEqual(
      sorted(
        new Map([
          ['KEPT.TXT', kept.get('KEPT.TXT')!],
          ['CHANGED.TXT', sha256(bytesOf('anew', 700))],
          ['NEW.TXT', sha256(bytesOf('new', 800))],
        ]),
      ),
    );
    expect(volumes.map(({ volume }) => volume.label).sort()).toEqual(['ONE', 'TWO']);
  });
});

describe('UDF as it was made empty', () => {
  testWith('mkudffs').each<[string, string[]]>([
    ['of a hard disk, blocks of 512 bytes', ['-m', 'hd', '-b', '512']],
    ['of a hard disk, blocks of 4,096 bytes', ['-m', 'hd', '-b', '4096']],
    ['of revision 1.02', ['-m', 'hd', '-b', '2048', '-r', '1.02']],
    ['of revision 1.50', ['-m', 'hd', '-b', '2048', '-r', '1.50']],
    ['of revision 2.01', ['-m', 'hd', '-b', '2048', '-r', '2.01']],
    ['of a disc rewritten by packets, with its spares', ['-m', 'cdrw', '-r', '1.50']],
    ['of a disc that is rewritten anywhere', ['-m', 'dvdram', '-r', '2.01']],
  ])('%s', async (_, args) => {
    const image = join(folder, 'x.udf');
    writeFileSync(image, '');
    truncateSync(image, 8 << 20);
    run('mkudffs', [...args, '-l', 'Low tide 1994', image]);
    const volume = await onlyVolume(image);
    expect([volume.filesystem, volume.label, volume.problems]).toEqual([
      'udf',
      'Low tide 1994',
      [],
    ]);
    const told = run('udfinfo', [image]);
    const numberOf = (key: string) => Number(new RegExp(`^${key}=(\\d+)$`, 'm').exec(told)![1]);
    expect(volume.freeBytes).toBe(numberOf('freeblocks') * numberOf('blocksize'));
    // By OSTA UDF 2.3.13 what packets can't hold is a file of this name.
    const own = volume.entries.filter(({ path }) => path !== 'Non-Allocatable Space');
    expect(own.filter(({ kind }) => kind === 'file')).toEqual([]);
  });
});
