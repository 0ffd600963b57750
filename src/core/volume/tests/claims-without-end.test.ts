/**
 * Small images whose files claim the same places over and over: they are opened within their means,
 * what is crossed is told, and no more is read than the image is worth.
 */
import { memorySource } from '../../bits/byte-source';
import { ReadingBudget, ReadOnce } from '../reading-budget';
import { identifyVolumes } from '../../identify/identify';
import { fat16Format, formatFat } from '../fat/format';
import { fileEntry } from '../extent-volume';
import { formatProdos } from '../prodos/format';

const open = async (image: Uint8Array) => (await identifyVolumes(memorySource(image))).volumes[0]!;

/** Puts entries of files behind one another into a directory's bytes. */
function putEntries(
  bytes: Uint8Array,
  from: number,
  count: number,
  { first, size, letter = 'F' }: { first: number; size: number; letter?: string },
): void {
  const view = new DataView(bytes.buffer, bytes.byteOffset);
  for (let i = 0; i < count; i++) {
    const at = from + i * 32;
    bytes.set(
      Buffer.from(`${letter}${String(i).padStart(8 - letter.length, '0')}DAT`, 'latin1'),
      at,
    );
    if (letter === '') bytes[at] = 0xe5;
    view.setUint16(at + 24, (10 << 9) | (3 << 5) | 5, true);
    view.setUint16(at + 26, first, true);
    view.setUint32(at + 28, size, true);
  }
}

/** A FAT16 volume of 33 MB with a folder of so many files, all of which begin at one cluster. */
function crossed(files: number, letter = 'F'): Uint8Array {
  const format = fat16Format(65_536);
  const image = formatFat(format);
  const view = new DataView(image.buffer);
  const clusterBytes = format.clusterSectors * 512;
  const folderClusters = Math.ceil((files * 32) / clusterBytes);
  const fat = 512;
  const last = 2 + folderClusters - 1;
  const clusters = Math.floor((image.length - 512 * 300) / clusterBytes);
  // The folder's chain, and one of every second cluster behind it: no two of them are neighbours.
  for (let cluster = 2; cluster <= last; cluster++)
    view.setUint16(fat + cluster * 2, cluster === last ? 0xffff : cluster + 1, true);
  for (let cluster = last + 1; cluster + 2 < clusters; cluster += 2)
    if (letter !== '')
      view.setUint16(fat + cluster * 2, cluster + 4 < clusters ? cluster + 2 : 0xffff, true);
  const bytes = format.fatSectors * 512;
  image.copyWithin(fat + bytes, fat, fat + bytes);
  const root = fat + 2 * bytes;
  image.set(Buffer.from('MANY       ', 'latin1'), root);
  image[root + 11] = 0x10;
  view.setUint16(root + 26, 2, true);
  const data = root + format.rootEntries * 32;
  putEntries(image, data, files, { first: last + 1, size: 15_000_000, letter });
  return image;
}

test('twenty thousand files that cross one another', async () => {
  const image = crossed(20_000);
  const { volume } = await open(image);
  const files = volume.entries.filter(({ kind }) => kind === 'file');
  expect(files).toHaveLength(20_000);
  expect(files.filter(({ damaged }) => damaged).length).toBeGreaterThan(19_900);
  expect(volume.problems.map(({ kind }) => kind)).toContain('cross-linked');
  const extents = files.reduce((sum, each) => sum + each.extents.length, 0);
  expect(extents).toBeLessThan(8 * 32_768);
});

test('files that were removed, each of which may have been anywhere', async () => {
  const { volume } = await open(crossed(20_000, ''));
  const gone = volume.entries.filter(({ deleted }) => deleted);
  expect([gone.length, gone.filter(({ recoverable }) => recoverable === 'whole').length]).toEqual([
    20_000, 0,
  ]);
});

test('a tree of blocks that all point to one, for every entry of a directory', async () => {
  const image = formatProdos(1600);
  const view = new DataView(image.buffer);
  // Block 20 lists itself as every one of its indexes, as an index and as what is in one.
  image.fill(20, 20 * 512, 20 * 512 + 256);
  for (let block = 2; block <= 5; block++)
    for (let i = block === 2 ? 1 : 0; i < 13; i++) {
      const at = block * 512 + 4 + i * 39;
      image.set([0x32, 0x41 + block, 0x41 + i], at);
      view.setUint16(at + 0x11, 20, true);
      image.set([0xff, 0xff, 0xff], at + 0x15);
    }
  const { volume } = await open(image);
  expect(volume.entries).toHaveLength(51);
  expect(volume.entries.every(({ damaged }) => damaged)).toBe(true);
});

test('what lies at the same places is read once, and what is claimed beyond all measure not at all', async () => {
  const entry = (bytes: number, offset: number) =>
    fileEntry({ path: 'A', recordedName: 'A', bytes, extents: [{ offset, length: bytes }] });
  const budget = new ReadingBudget(737_280);
  const once = new ReadOnce<number>(budget);
  let reads = 0;
  const read = async () => ++reads;
  const found = [
    await once.of(entry(1000, 0), read),
    await once.of(entry(1000, 0), read),
    await once.of(entry(1000, 512), read),
    // A hole as large as what may be read beside the image, and another.
    await once.of(entry(2 ** 28, -1), read),
    await once.of(entry(2 ** 28 + 1, -1), read),
  ];
  expect([found, budget.refused]).toEqual([[1, 1, 2, 3, null], 1]);
  // Of another volume of the image the same places are others.
  expect(await new ReadOnce<number>(budget).of(entry(1000, 0), read)).toBe(4);
});
