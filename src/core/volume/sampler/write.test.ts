/** Sampler disks made elsewhere, and blank ones, changed: what they take, refuse and keep. */
import { blankSamplerDisk, withRoom } from '../../../../tests/support/sound/sampler-disks';
import { loadVector } from '../../../../tests/support/vectors';
import { refusalOf } from '../../../../tests/support/edits/refusal';
import { memorySource } from '../../bits/byte-source';
import { identifyVolumes } from '../../identify/identify';
import type { Volume } from '../volume';
import { openSampler } from './read';
import { WritableSampler } from './write';

const BLOCK = 8192;
const CHAINS = 0x70a;
const opened = (image: Uint8Array): Promise<Volume> => openSampler(memorySource(image));

async function contentsOf(image: Uint8Array): Promise<Map<string, Buffer>> {
  const volume = await opened(image);
  const contents = new Map<string, Buffer>();
  for (const entry of volume.entries)
    if (entry.kind === 'file') contents.set(entry.path, Buffer.from(await volume.read(entry)));
  return contents;
}

const sample = (frames: number, larger = false) => {
  const file = new Uint8Array((larger ? 192 : 150) + 2 * frames);
  file[0] = 3;
  new DataView(file.buffer).setUint32(26, frames, true);
  return file;
};

/** A disk of one partition with one volume in it. */
function diskWith(blocks: number, name = 'FOG'): { image: Uint8Array; volume: WritableSampler } {
  const image = blankSamplerDisk(blocks);
  const volume = new WritableSampler(image);
  volume.makeFolder(`A/${name}`);
  return { image, volume };
}

test('a blank disk is one, and clean', async () => {
  const { volumes } = await identifyVolumes(memorySource(diskWith(30).image));
  expect(volumes.map(({ volume }) => volume.filesystem)).toEqual(['sampler']);
  expect(volumes[0]!.volume.problems).toEqual([]);
  // Three blocks of the header, and two of the directory of 510 entries.
  expect(volumes[0]!.volume.freeBytes).toBe((30 - 3 - 2) * BLOCK);
});

test.each(['s-loops-several', 's-tuning', 'p-missing', 'p-large-192', 's-start-end'])(
  '%s, made elsewhere, takes files, gives one up, and keeps all others',
  async (name) => {
    const image = withRoom(loadVector(`sound/${name}.img`), 4);
    const before = await opened(image);
    const contents = await contentsOf(image);
    const folder = [...contents.keys()][0]!.split('/').slice(0, 2).join('/');
    const volume = new WritableSampler(image);
    // All that the disk has left.
    expect(before.freeBytes).toBe(4 * BLOCK);
    const made = sample((4 * BLOCK - 150) >> 1);
    volume.put(`${folder}/MADE`, made);
    contents.set(`${folder}/MADE`, Buffer.from(made));
    expect(refusalOf(() => volume.put(`${folder}/MORE`, sample(1)))).toBe('full');
    const [gone] = contents.keys();
    volume.remove(gone!);
    contents.delete(gone!);
    volume.put(`${folder}/IN ITS PLACE`, sample(9), { type: 's' });
    contents.set(`${folder}/IN ITS PLACE`, Buffer.from(sample(9)));
    expect(await contentsOf(image)).toEqual(contents);
    const kinds = ({ problems }: Volume) => problems.map(({ kind }) => kind).sort();
    expect(kinds(await opened(image))).toEqual(kinds(before));
  },
);

test('blocks are taken from the lowest on, and a chain ends with its top bit', () => {
  const { image, volume } = diskWith(30);
  volume.put('A/FOG/ONE', sample(100));
  volume.put('A/FOG/TWO', sample(BLOCK));
  volume.remove('A/FOG/ONE');
  volume.put('A/FOG/THREE', sample(BLOCK));
  const view = new DataView(image.buffer);
  const linkOf = (block: number) => view.getUint16(CHAINS + 2 * block, true);
  // The directory has 3 and 4, what was ONE 5, TWO 6 to 8; THREE begins where ONE was.
  expect([6, 7, 8].map(linkOf)).toEqual([7, 8, 0xc000]);
  expect([5, 9, 10].map(linkOf)).toEqual([9, 10, 0xc000]);
});

test('entries of a directory leave no gap, also where it goes on in another block', async () => {
  const { image, volume } = diskWith(600);
  const names = Array.from({ length: 400 }, (_, i) => `F${i}`);
  for (const name of names) volume.put(`A/FOG/${name}`, sample(1));
  for (const name of ['F0', 'F340', 'F341', 'F399']) volume.remove(`A/FOG/${name}`);
  const left = names.filter((name) => !['F0', 'F340', 'F341', 'F399'].includes(name));
  expect([...(await contentsOf(image)).keys()]).toEqual(left.map((name) => `A/FOG/${name}`));
  const directory = image.subarray(3 * BLOCK, 5 * BLOCK);
  const kindAt = (i: number) =>
    directory[Math.floor(i / 341) * BLOCK + (i % 341) * 24 + 16] as number;
  expect(Array.from({ length: 400 }, (_, i) => kindAt(i) !== 0).indexOf(false)).toBe(396);
});

test('a volume is a folder: made, renamed, and removed once it is empty', async () => {
  const { image, volume } = diskWith(40);
  const free = volume.room().free;
  volume.makeFolder('A/HORNS');
  volume.rename('A/HORNS', 'BELLS');
  volume.put('A/BELLS/LOW', sample(10));
  expect(refusalOf(() => volume.remove('A/BELLS'))).toBe('not-empty');
  expect((await opened(image)).entries.map(({ path, kind }) => [path, kind])).toEqual([
    ['A/FOG', 'directory'],
    ['A/BELLS', 'directory'],
    ['A/BELLS/LOW', 'file'],
  ]);
  volume.remove('A/BELLS/LOW');
  volume.remove('A/BELLS');
  expect([volume.room().free, (await opened(image)).entries.length]).toEqual([free, 1]);
});

test('a partition has a hundred volumes, and each has files of its own name', async () => {
  const { image, volume } = diskWith(300);
  for (let i = 1; i < 100; i++) volume.makeFolder(`A/V${i}`);
  expect(volume.room().entries).toBe(0);
  expect(refusalOf(() => volume.makeFolder('A/ONE MORE'))).toBe('directory-full');
  volume.put('A/V1/SAME', sample(1));
  volume.put('A/V99/SAME', sample(2));
  const contents = await contentsOf(image);
  expect([...contents].map(([path, bytes]) => [path, bytes.length])).toEqual([
    ['A/V1/SAME', 152],
    ['A/V99/SAME', 154],
  ]);
});

test('a full directory is told by its number of files', () => {
  const { volume } = diskWith(600);
  for (let i = 0; i < 510; i++) volume.put(`A/FOG/F${i}`, sample(1));
  const image = volume.image.slice();
  expect(refusalOf(() => volume.put('A/FOG/ONE MORE', sample(1)))).toBe('directory-full');
  expect(Buffer.compare(image, volume.image)).toBe(0);
});

test('kinds of files go by their letter, their content, and the size of their headers', async () => {
  const { image, volume } = diskWith(40);
  const program = new Uint8Array(150 * 3);
  program.set([1], 0);
  program[42] = 2;
  volume.put('A/FOG/SAMPLE', sample(20));
  volume.put('A/FOG/LARGER', sample(20, true));
  volume.put('A/FOG/PROGRAM', program);
  volume.put('A/FOG/OTHER', new Uint8Array(3), { type: 'x' });
  const codes = async () =>
    (await opened(image)).entries.slice(1).map(({ typeCode, type }) => [typeCode, type]);
  expect(await codes()).toEqual([
    [0x73, 's'],
    [0xf3, 's'],
    [0x70, 'p'],
    [0x78, 'x'],
  ]);
  volume.setAttributes('A/FOG/LARGER', { type: 'p' });
  expect((await codes())[1]).toEqual([0xf0, 'p']);
  expect(refusalOf(() => volume.put('A/FOG/WHAT', new Uint8Array(3)))).toBe('kind');
  expect(refusalOf(() => volume.setAttributes('A/FOG/OTHER', { type: 'PRG' }))).toBe('kind');
});

test('a length that tells neither kind of header leaves it as what is there has it', async () => {
  const { image, volume } = diskWith(40);
  const padded = new Uint8Array([...sample(20, true), ...Array<number>(40).fill(0)]);
  volume.put('A/FOG/FIRST', sample(20, true));
  volume.put('A/FOG/SECOND', padded);
  volume.put('A/FOG/FIRST', padded);
  const codes = (await opened(image)).entries.slice(1).map(({ typeCode }) => typeCode);
  expect(codes).toEqual([0xf3, 0xf3]);
});

test('a file is renamed in its own header too, where that had the same name', async () => {
  const { image, volume } = diskWith(40);
  volume.put('A/FOG/HORN', sample(4));
  const named = volume.read('A/FOG/HORN')!.slice();
  named.set([18, 25, 28, 24, 10, 10, 10, 10, 10, 10, 10, 10], 3);
  volume.put('A/FOG/HORN', named);
  volume.put('A/FOG/OTHER', sample(4));
  volume.rename('A/FOG/HORN', 'BELL 1');
  volume.rename('A/FOG/OTHER', 'STILL');
  const contents = await contentsOf(image);
  expect([...contents.keys()]).toEqual(['A/FOG/BELL 1', 'A/FOG/STILL']);
  const nameIn = (path: string) => [...contents.get(path)!.subarray(3, 15)];
  expect(nameIn('A/FOG/BELL 1')).toEqual([12, 15, 22, 22, 10, 1, 10, 10, 10, 10, 10, 10]);
  expect(nameIn('A/FOG/STILL')).toEqual(Array(12).fill(0));
  expect(refusalOf(() => volume.rename('A/FOG/STILL', 'BELL 1'))).toBe('exists');
});

test.each([
  ['A/FOG/THIRTEEN CHAR', 'name'],
  ['A/FOG/lower', 'name'],
  ['A/FOG/ENDS ', 'name'],
  ['A/FOG', 'is-folder'],
  ['A', 'no-folders'],
  ['A/FOG/DEEP/ER', 'no-folders'],
  ['A/NONE/X', 'missing'],
  ['C/FOG/X', 'missing'],
])('nothing is put at %s: %s', (path, reason) => {
  const { image, volume } = diskWith(30);
  const before = image.slice();
  expect(refusalOf(() => volume.put(path, sample(1)))).toBe(reason);
  expect(Buffer.compare(image, before)).toBe(0);
});

test('what a partition has is its own: the second is full by itself', () => {
  const image = blankSamplerDisk(30, 10);
  const volume = new WritableSampler(image);
  volume.makeFolder('B/SMALL');
  volume.put('B/SMALL/FILLS', sample((5 * BLOCK - 150) >> 1));
  expect(refusalOf(() => volume.put('B/SMALL/MORE', sample(1)))).toBe('full');
  expect(volume.room().free).toBe(30 - 3);
  expect(refusalOf(() => volume.put('B/SMALL/HUGE', new Uint8Array(2 ** 24), { type: 's' }))).toBe(
    'too-large',
  );
});

test.each<[string, (image: Uint8Array, view: DataView) => void]>([
  ['a chain that comes back', (_, view) => view.setUint16(CHAINS + 12, 6, true)],
  ['a chain that leaves the partition', (_, view) => view.setUint16(CHAINS + 12, 900, true)],
  ['a file marked free', (_, view) => view.setUint16(CHAINS + 12, 0, true)],
  ['two files on one block', (_, view) => view.setUint16(CHAINS + 10, 6, true)],
  ['a volume of no known type', (image) => void (image[0xca + 12] = 9)],
  ['a header that is not its own', (_, view) => view.setUint16(CHAINS, 0, true)],
  ['more blocks than there are', (_, view) => view.setUint16(0, 900, true)],
])('a disk with %s is not written to', (_, hurt) => {
  const { image, volume } = diskWith(30);
  volume.put('A/FOG/FIRST', sample(1));
  volume.put('A/FOG/SECOND', sample(1));
  hurt(image, new DataView(image.buffer));
  expect(refusalOf(() => new WritableSampler(image))).toBe('damaged');
});

test.each([
  ['Low horn, first take.wav', 'LOW HORN- FI'],
  ['zwölf.aiff', 'ZWOLF'],
  ['.wav', '.WAV'],
  ['   .wav', 'SOUND'],
])('for %s the name %s is suggested', (wished, name) => {
  const { volume } = diskWith(30);
  expect(volume.suggestName(wished)).toBe(name);
  expect(volume.refuseName(name)).toBeNull();
});
