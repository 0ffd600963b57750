/** Kinds that are not read here are named by their marks, and nothing is named by chance. */
import { gzipSync } from 'node:zlib';
import { memorySource } from '../bits/byte-source';
import { seededRandom } from '../bits/random';
import { identifyVolumes } from './identify';

const SIZE = 300_000;

/** An image with these bytes at these places. */
function marked(places: Record<number, string | readonly number[]>): Uint8Array {
  const bytes = new Uint8Array(SIZE);
  for (const [at, mark] of Object.entries(places))
    bytes.set(typeof mark === 'string' ? Buffer.from(mark, 'latin1') : mark, Number(at));
  return bytes;
}

const nameOf = async (bytes: Uint8Array) => {
  const { volumes, problems } = await identifyVolumes(memorySource(bytes));
  return [volumes.length, problems.at(-1)?.said.with?.name];
};

test.each<[string, Uint8Array]>([
  ['GPT', marked({ 512: 'EFI PART' })],
  ['NTFS', marked({ 0: [0xeb, 0x52, 0x90], 3: 'NTFS    ' })],
  ['exFAT', marked({ 3: 'EXFAT   ' })],
  ['HFS', marked({ 1024: 'BD', 1044: [0, 0, 2, 0], 1060: [6] })],
  ['HFS Plus', marked({ 1024: [0x48, 0x2b, 0, 4] })],
  ['OFS', marked({ 0: [0x44, 0x4f, 0x53, 0] })],
  ['FFS', marked({ 0: [0x44, 0x4f, 0x53, 1] })],
  ['ext2', marked({ 1024: [16], 1080: [0x53, 0xef] })],
  ['RDB', marked({ 1536: 'RDSK' })],
  ['tar', marked({ 0: 'letters/1991.txt', 257: 'ustar' })],
  ['gzip', new Uint8Array(gzipSync(Buffer.alloc(100_000, 'tide')))],
])('%s', async (name, bytes) => {
  expect(await nameOf(bytes)).toEqual([0, name]);
});

test('noise and blanks bear no mark', async () => {
  for (let seed = 0; seed < 40; seed++) {
    const random = seededRandom(`mark/${seed}`);
    const noise = Uint8Array.from({ length: 20_000 }, () => random.below(256));
    expect(await nameOf(noise)).toEqual([0, undefined]);
  }
  for (const byte of [0, 0xe5, 0xf6, 0xff])
    expect(await nameOf(new Uint8Array(SIZE).fill(byte))).toEqual([0, undefined]);
});

test('in a partition too', async () => {
  const bytes = marked({
    0x1be: [0, 0, 0, 0, 7, 0, 0, 0, 100, 0, 0, 0, 200, 0, 0, 0],
    0x1fe: [0x55, 0xaa],
    [100 * 512 + 3]: 'NTFS    ',
  });
  const { problems } = await identifyVolumes(memorySource(bytes));
  expect(problems.map(({ said }) => said)).toMatchObject([
    { code: 'identify.inPartition', with: { number: 1, what: { with: { name: 'NTFS' } } } },
  ]);
});
