/** Tars as the system's own programs write them, in each of their formats; and what is none. */
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { memorySource } from '../bits/byte-source';
import { beginsAsTar, memberSource, tarListing } from './tar';

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'tar-'));
});
afterEach(() => rmSync(folder, { recursive: true }));

const LONG = `${'a folder of forty characters in its name/'.repeat(3)}${'n'.repeat(110)}.img`;
const FILES: Record<string, string> = {
  'bag/a.txt': 'a',
  'bag/empty': '',
  'bag/Grüße/ü.txt': 'of accents',
  [`bag/${LONG}`]: 'x'.repeat(1500),
};

function tarOf(format: string): Uint8Array {
  for (const [path, text] of Object.entries(FILES)) {
    mkdirSync(dirname(join(folder, path)), { recursive: true });
    writeFileSync(join(folder, path), text);
  }
  symlinkSync('a.txt', join(folder, 'bag/link'));
  execFileSync('tar', ['cf', 'x.tar', `--format=${format}`, 'bag'], { cwd: folder });
  return new Uint8Array(readFileSync(join(folder, 'x.tar')));
}

test.each(['gnu', 'pax', 'oldgnu'])('every file of a tar of format %s', async (format) => {
  const bytes = tarOf(format);
  const source = memorySource(bytes);
  const { members, isWhole } = await tarListing(source);
  expect(isWhole).toBe(true);
  expect(beginsAsTar(bytes.subarray(0, 512))).toBe(true);
  const files = members.filter(({ type }) => type === 'file');
  const read: Record<string, string> = {};
  for (const member of files)
    read[member.path] = Buffer.from(
      await memberSource(source, member).read(0, member.bytes),
    ).toString();
  expect(read).toEqual(FILES);
  expect(members.filter(({ type }) => type === 'link').map(({ path }) => path)).toEqual([
    'bag/link',
  ]);
  expect(members.filter(({ type }) => type === 'folder').length).toBeGreaterThanOrEqual(3);
});

test('wherever it is cut, it is not whole, and what lies before stands', async () => {
  const bytes = tarOf('pax');
  const { members } = await tarListing(memorySource(bytes));
  const last = members.at(-1)!;
  const end = Math.ceil((last.offset + last.bytes) / 512) * 512;
  for (let length = 0; length < end; length += 300) {
    const cut = await tarListing(memorySource(bytes.subarray(0, length)));
    expect(cut.isWhole).toBe(false);
    expect(members.slice(0, cut.members.length)).toEqual(cut.members);
  }
});

test('a byte of a header that is another is seen', async () => {
  const bytes = tarOf('gnu');
  const { members } = await tarListing(memorySource(bytes));
  const second = members[1]!;
  bytes[second.offset - 512 + 3]! ^= 1;
  const hurt = await tarListing(memorySource(bytes));
  expect([hurt.isWhole, hurt.members.length, hurt.end]).toEqual([false, 1, second.offset - 512]);
});

/** A header with its sum, as POSIX has it. */
function header(fields: Record<number, string | Uint8Array>): Uint8Array {
  const block = new Uint8Array(512);
  for (const [at, field] of Object.entries(fields))
    block.set(typeof field === 'string' ? Buffer.from(field) : field, Number(at));
  block.set(Buffer.from(' '.repeat(8)), 148);
  const sum = block.reduce((all, byte) => all + byte, 0);
  block.set(Buffer.from(`${sum.toString(8).padStart(6, '0')}\0 `), 148);
  return block;
}
const EIGHT_GIB = Uint8Array.from([0x80, 0, 0, 0, 0, 0, 0, 2, 0, 0, 0, 0]);

test('a size in base 256 is read, and one past the end is not believed', async () => {
  const block = header({ 0: 'large', 124: EIGHT_GIB, 156: '0', 257: 'ustar\0' + '00' });
  const size = 2 ** 33;
  const sparse = {
    size: size + 2048,
    read: async (at: number, length: number) =>
      at === 0 ? block.subarray(0, length) : new Uint8Array(length),
  };
  expect((await tarListing(sparse)).members).toEqual([
    { path: 'large', type: 'file', offset: 512, bytes: size },
  ]);
  expect(await tarListing(memorySource(block))).toEqual({ members: [], end: 0, isWhole: false });
});

test('bytes that are no tar give nothing', async () => {
  for (let seed = 1; seed < 50; seed++) {
    const bytes = Uint8Array.from({ length: 5120 }, (_, i) => (i * i * seed + i * 31) & 0xff);
    expect(beginsAsTar(bytes)).toBe(false);
    expect((await tarListing(memorySource(bytes))).members).toEqual([]);
  }
});
