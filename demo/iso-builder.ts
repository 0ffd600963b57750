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

/** Where everything lies: descriptors, path tables, directories of four blocks each, then files. */
interface Plan {
  made: string;
  root: Placed;
  folders: Placed[];
  files: { folder: string; file: Placed }[];
  /** First block of the files, and the first behind them. */
  first: number;
  end: number;
}

const DIRECTORY_BLOCKS = 4;
const PATH_TABLES = [
  { block: FIRST + 2, little: true },
  { block: FIRST + 3, little: false },
] as const;

const folderOf = (path: string) => (path.includes('/') ? path.split('/')[0]! : '');

function planOf(files: readonly IsoFile[]): Plan {
  const made = files[0]?.modified ?? '1995-01-01T00:00:00';
  let next = FIRST + DIRECTORY_BLOCKS;
  const take = (blocks: number) => {
    const at = next;
    next += blocks;
    return at;
  };
  const directoryNamed = (name: string): Placed => ({
    name,
    block: take(DIRECTORY_BLOCKS),
    bytes: BLOCK * DIRECTORY_BLOCKS,
    modified: made,
    folder: true,
  });
  const root = directoryNamed('');
  const names = [...new Set(files.map(({ path }) => folderOf(path)))].filter(Boolean).sort();
  const folders = names.map(directoryNamed);
  const first = next;
  const placed = files.map(({ path, length, modified }) => ({
    folder: folderOf(path),
    file: {
      name: path.split('/').pop()!,
      block: take(Math.max(1, Math.ceil(length / BLOCK))),
      bytes: length,
      modified,
      folder: false,
    },
  }));
  return { made, root, folders, files: placed, first, end: next };
}

function putDirectories(image: Uint8Array, { root, folders, files }: Plan): void {
  const byName = (a: Placed, b: Placed) => (a.name < b.name ? -1 : 1);
  const inFolder = (name: string) =>
    files.filter(({ folder }) => folder === name).map(({ file }) => file);
  const put = (own: Placed, entries: Placed[]) =>
    image.set(directory(own, root, entries.sort(byName)), own.block * BLOCK);
  put(root, [...folders, ...inFolder('')]);
  for (const folder of folders) put(folder, inFolder(folder.name));
}

const pathLength = (name: string) => 8 + name.length + (name.length % 2);

/** Both path tables; gives the bytes of each. */
function putPathTables(image: Uint8Array, { root, folders }: Plan): number {
  const view = new DataView(image.buffer);
  const rows = [{ name: '\0', block: root.block }, ...folders];
  for (const { block, little } of PATH_TABLES) {
    let at = block * BLOCK;
    for (const { name, block: where } of rows) {
      image[at] = name.length;
      view.setUint32(at + 2, where, little);
      view.setUint16(at + 6, 1, little);
      image.set(new TextEncoder().encode(name), at + 8);
      at += pathLength(name);
    }
  }
  return rows.reduce((sum, { name }) => sum + pathLength(name), 0);
}

/** Text fields of the primary descriptor that nothing is said in: place and length. */
const EMPTY_FIELDS = [
  [190, 128],
  [318, 128],
  [446, 128],
  [574, 128],
  [702, 37],
  [739, 37],
  [776, 37],
] as const;

const NO_MOMENT = '0'.repeat(16);

function putDescriptors(image: Uint8Array, label: string, plan: Plan, tableBytes: number): void {
  const view = new DataView(image.buffer);
  const at = FIRST * BLOCK;
  const text = (where: number, value: string, length: number) =>
    image.set(new TextEncoder().encode(value.padEnd(length)), at + where);
  image[at] = 1;
  text(1, 'CD001', 5);
  image[at + 6] = 1;
  text(8, 'SKERROW', 32);
  text(40, label, 32);
  both32(view, at + 80, plan.end);
  both16(view, at + 120, 1);
  both16(view, at + 124, 1);
  both16(view, at + 128, BLOCK);
  both32(view, at + 132, tableBytes);
  view.setUint32(at + 140, PATH_TABLES[0].block, true);
  view.setUint32(at + 148, PATH_TABLES[1].block, false);
  image.set(record({ ...plan.root, name: '\0' }), at + 156);
  for (const [where, length] of EMPTY_FIELDS) text(where, '', length);
  text(813, `${plan.made.replace(/\D/g, '')}00`, 16);
  for (const where of [830, 847, 864]) text(where, NO_MOMENT, 16);
  image[at + 881] = 1;
  image[at + BLOCK] = 255;
  text(BLOCK + 1, 'CD001', 5);
  image[at + BLOCK + 6] = 1;
}

/** Everything before the first file, and where each file goes. */
export function isoHead(
  label: string,
  files: readonly IsoFile[],
): { head: Uint8Array; starts: number[]; blocks: number } {
  const plan = planOf(files);
  const head = new Uint8Array(plan.first * BLOCK);
  putDirectories(head, plan);
  putDescriptors(head, label, plan, putPathTables(head, plan));
  return { head, starts: plan.files.map(({ file }) => file.block), blocks: plan.end };
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
