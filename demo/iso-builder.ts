/**
 * Builds small ISO 9660 volumes for the sample scenario (ECMA-119, interchange level 1), with one
 * level of folders.
 */
import type { DemoFile } from './fat-builder';

export const ISO_BLOCK = 2048;
const BLOCK = ISO_BLOCK;
const FIRST = 16;

function both16(view: DataView, at: number, value: number): void {
  view.setUint16(at, value, true);
  view.setUint16(at + 2, value, false);
}

function both32(view: DataView, at: number, value: number): void {
  view.setUint32(at, value, true);
  view.setUint32(at + 4, value, false);
}

/** Seven bytes of a directory record's date (clause 9.1.5). */
function recordTime(local: string): number[] {
  const [year, month, day, hour, minute, second] = local.match(/\d+/g)!.map(Number) as [
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  return [year - 1900, month, day, hour, minute, second, 0];
}

interface Placed {
  name: string;
  block: number;
  bytes: number;
  modified: string;
  folder: boolean;
}

/**
 * A directory record (clause 9.1); `name` is given in bytes for the first two, which stand for
 * itself and its parent.
 */
function record({ name, block, bytes, modified, folder }: Placed): Uint8Array {
  const id =
    name.charCodeAt(0) < 2
      ? Uint8Array.of(name.charCodeAt(0))
      : new TextEncoder().encode(folder ? name : `${name};1`);
  const length = 33 + id.length + (id.length % 2 === 0 ? 1 : 0);
  const out = new Uint8Array(length);
  const view = new DataView(out.buffer);
  out[0] = length;
  both32(view, 2, block);
  both32(view, 10, bytes);
  out.set(recordTime(modified), 18);
  out[25] = folder ? 2 : 0;
  both16(view, 28, 1);
  out[32] = id.length;
  out.set(id, 33);
  return out;
}

function directory(own: Placed, parent: Placed, entries: readonly Placed[]): Uint8Array {
  const out = new Uint8Array(BLOCK * 4);
  let at = 0;
  for (const each of [{ ...own, name: '\0' }, { ...parent, name: '\x01' }, ...entries]) {
    const bytes = record(each);
    // A record never straddles two blocks.
    if ((at % BLOCK) + bytes.length > BLOCK) at = Math.ceil(at / BLOCK) * BLOCK;
    out.set(bytes, at);
    at += bytes.length;
  }
  return out;
}

interface IsoFile {
  path: string;
  length: number;
  modified: string;
}

/**
 * Everything before the first file: descriptors, path tables and directories, which take four
 * blocks each; and where each file goes.
 */
export function isoHead(
  label: string,
  files: readonly IsoFile[],
): { head: Uint8Array; starts: number[]; blocks: number } {
  const folders = [
    ...new Set(files.flatMap(({ path }) => (path.includes('/') ? [path.split('/')[0]!] : []))),
  ].sort();
  const made = files[0]?.modified ?? '1995-01-01T00:00:00';
  let next = FIRST + 4;
  const take = (blocks: number) => {
    const at = next;
    next += blocks;
    return at;
  };
  const root: Placed = { name: '', block: take(4), bytes: BLOCK * 4, modified: made, folder: true };
  const placedFolders = folders.map((name): Placed => ({
    name,
    block: take(4),
    bytes: BLOCK * 4,
    modified: made,
    folder: true,
  }));
  const first = next;
  const placed = files.map(({ path, length, modified }) => ({
    folder: path.includes('/') ? path.split('/')[0]! : '',
    file: {
      name: path.split('/').pop()!,
      block: take(Math.max(1, Math.ceil(length / BLOCK))),
      bytes: length,
      modified,
      folder: false,
    } satisfies Placed,
  }));
  const image = new Uint8Array(first * BLOCK);
  const view = new DataView(image.buffer);
  const text = (at: number, value: string, length: number) =>
    image.set(new TextEncoder().encode(value.padEnd(length)), at);
  const byName = (a: Placed, b: Placed) => (a.name < b.name ? -1 : 1);
  image.set(
    directory(
      root,
      root,
      [
        ...placedFolders,
        ...placed.filter(({ folder }) => folder === '').map(({ file }) => file),
      ].sort(byName),
    ),
    root.block * BLOCK,
  );
  for (const folder of placedFolders)
    image.set(
      directory(
        folder,
        root,
        placed
          .filter((each) => each.folder === folder.name)
          .map(({ file }) => file)
          .sort(byName),
      ),
      folder.block * BLOCK,
    );
  const table = [{ name: '\0', block: root.block }, ...placedFolders];
  const sizeOf = table.reduce((sum, { name }) => sum + 8 + name.length + (name.length % 2), 0);
  for (const [block, little] of [
    [FIRST + 2, true],
    [FIRST + 3, false],
  ] as const) {
    let at = block * BLOCK;
    for (const { name, block: where } of table) {
      image[at] = name.length;
      view.setUint32(at + 2, where, little);
      view.setUint16(at + 6, 1, little);
      image.set(new TextEncoder().encode(name), at + 8);
      at += 8 + name.length + (name.length % 2);
    }
  }
  const at = FIRST * BLOCK;
  image[at] = 1;
  text(at + 1, 'CD001', 5);
  image[at + 6] = 1;
  text(at + 8, 'SKERROW', 32);
  text(at + 40, label, 32);
  both32(view, at + 80, next);
  both16(view, at + 120, 1);
  both16(view, at + 124, 1);
  both16(view, at + 128, BLOCK);
  both32(view, at + 132, sizeOf);
  view.setUint32(at + 140, FIRST + 2, true);
  view.setUint32(at + 148, FIRST + 3, false);
  image.set(record({ ...root, name: '\0' }), at + 156);
  for (const [where, length] of [
    [190, 128],
    [318, 128],
    [446, 128],
    [574, 128],
    [702, 37],
    [739, 37],
    [776, 37],
  ] as const)
    text(at + where, '', length);
  for (const where of [813, 830, 847, 864])
    text(at + where, where === 813 ? `${made.replace(/\D/g, '')}00` : '0000000000000000', 16);
  image[at + 881] = 1;
  image[at + BLOCK] = 255;
  text(at + BLOCK + 1, 'CD001', 5);
  image[at + BLOCK + 6] = 1;
  return { head: image, starts: placed.map(({ file }) => file.block), blocks: next };
}

/** The whole volume. */
export function buildIso(label: string, files: readonly DemoFile[]): Uint8Array {
  const { head, starts, blocks } = isoHead(
    label,
    files.map(({ path, bytes, modified }) => ({ path, length: bytes.length, modified })),
  );
  const image = new Uint8Array(blocks * BLOCK);
  image.set(head);
  for (const [i, { bytes }] of files.entries()) image.set(bytes, starts[i]! * BLOCK);
  return image;
}
