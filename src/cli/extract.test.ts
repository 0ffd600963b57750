/** Files of discs with several directories, taken out by the built command line. */
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { loadExpectation, loadVector, sha256Hex } from '../../tests/support/vectors';
import { spindleInFolder } from '../../tests/support/cli/spindle-in-folder';

const { path: inFolder, put, spindle } = spindleInFolder();

interface Listed {
  path: string;
  sha256: string;
  link?: string;
}

/** Everything below a folder, with its digest. */
const below = (root: string): Record<string, string> =>
  Object.fromEntries(
    readdirSync(inFolder(root), { recursive: true, withFileTypes: true })
      .filter((each) => each.isFile())
      .map((each) => {
        const path = join(each.parentPath, each.name);
        return [path.slice(inFolder(root).length + 1), sha256Hex(readFileSync(path))];
      }),
  );

test('by the fullest names, packed files unpacked, each once', () => {
  put('packed.iso', loadVector('optical/vol-zisofs.iso'));
  const { rockridge } = loadExpectation<{ rockridge: Listed[] }>('optical/vol-zisofs');
  expect(spindle('contents', 'packed.iso', '--extract', 'out').status).toBe(0);
  expect(below('out')).toEqual(
    Object.fromEntries(rockridge.map(({ path, sha256 }) => [path, sha256])),
  );
});

test('what another directory alone lists stands in a folder of its own', () => {
  const image = loadVector('optical/vol-joliet-rr.iso').slice();
  // One of the files has lost its record in the fullest directory.
  const { volumes } = JSON.parse(listing(image));
  const { rockridge, joliet } = volumes[0] as { rockridge: Listed[]; joliet: Listed[] };
  const lost = rockridge.find(({ path }) => path.endsWith('/Horn résumé.log'))!;
  const name = Buffer.from('HORN_R_S.LOG', 'latin1');
  const at = Buffer.from(image).indexOf(name);
  image.fill(0, at - 33, at - 32);
  put('one-lost.iso', image);
  expect(spindle('contents', 'one-lost.iso', '--extract', 'out').status).toBe(0);
  const found = below('out');
  const inJoliet = joliet.find(({ sha256 }) => sha256 === lost.sha256)!;
  expect(found[lost.path]).toBeUndefined();
  expect(found[`other-views/joliet/${inJoliet.path}`]).toBe(lost.sha256);
});

function listing(image: Uint8Array): string {
  put('sound.iso', image);
  return spindle('contents', 'sound.iso', '--json', '-').stdout;
}

test('a packed file that is damaged: what stands in front of it, told, without a digest', () => {
  const image = loadVector('optical/vol-zisofs.iso').slice();
  const magic = Buffer.from('37e45396c9dbd607a0860100', 'hex');
  const at = Buffer.from(image).indexOf(magic);
  image[at + 0x10de + 500]! ^= 1;
  const { volumes } = JSON.parse(listing(image));
  const hurt = volumes[0].rockridge.find(({ path }: Listed) => path.startsWith('Letters/'));
  expect(hurt).toMatchObject({ bytes: 100_000, damaged: true, sha256: null });
  expect(volumes[0].problems.map(({ kind }: { kind: string }) => kind)).toEqual([
    'packed-data-damaged',
  ]);
  const rows = JSON.parse(spindle('index', 'sound.iso', '--json', '-').stdout);
  const row = (rows.files ?? rows).find(({ path }: Listed) => path.startsWith('Letters/'));
  expect(row).toMatchObject({ bytes: 100_000, damaged: true, sha256: null });
});
