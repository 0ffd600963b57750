/** Packed files of a disc made by other hands, hurt: nothing but true bytes, and the damage told. */
import { deflateSync } from 'node:zlib';
import fc from 'fast-check';
import { loadVector } from '../../../../tests/support/vectors';
import { memorySource } from '../../bits/byte-source';
import { directoriesOf } from '../disc-volume';
import { collect, isWhole } from '../volume';
import { openIso9660 } from './read';
import { unpackZisofs } from './zisofs';

const BLOCK = 1 << 15;
const PATH = 'Letters/To the printer.txt';

const DISC = loadVector('optical/vol-zisofs.iso');

async function fileOf(bytes: Uint8Array) {
  const volume = await openIso9660(memorySource(bytes));
  const entry = directoriesOf(volume).entries.find(({ path }) => path === PATH)!;
  return { entry, bytes: await volume.read(entry), kinds: volume.problems.map(({ kind }) => kind) };
}

const sound = fileOf(DISC);

test('a byte that changed in a packed block: the blocks in front of it, and nothing else', async () => {
  const whole = await sound;
  const at = whole.entry.extents[0]!.offset;
  const second = new DataView(DISC.buffer, DISC.byteOffset + at).getUint32(20, true);
  for (const place of [second + 2, second + 1000, second + 2500]) {
    const hurt = DISC.slice();
    hurt[at + place]! ^= 0x10;
    const found = await fileOf(hurt);
    expect([found.bytes.length, isWhole(found.entry)]).toEqual([BLOCK, true]);
    expect(Buffer.compare(found.bytes, whole.bytes.subarray(0, BLOCK))).toBe(0);
  }
});

test('a header that makes no sense: listed as it is recorded, and told', async () => {
  const whole = await sound;
  for (const [place, value] of [
    [0, 0],
    [8, 7],
    [11, 255],
    [12, 0],
    [12, 5],
    [13, 31],
  ] as const) {
    const hurt = DISC.slice();
    hurt[whole.entry.extents[0]!.offset + place] = value;
    const found = await fileOf(hurt);
    expect([found.entry.bytes, found.kinds]).toEqual([
      whole.entry.packedBytes,
      ['packed-data-damaged'],
    ]);
  }
});

/** A packed file by the standard's words, made with another packer than it is read with. */
function packed(bytes: Uint8Array, shift: number): Uint8Array {
  const blocks: Buffer[] = [];
  for (let at = 0; at < bytes.length; at += 1 << shift) {
    const block = bytes.subarray(at, at + (1 << shift));
    blocks.push(block.some((byte) => byte !== 0) ? deflateSync(block) : Buffer.alloc(0));
  }
  const head = Buffer.alloc(16 + 4 * (blocks.length + 1));
  Buffer.from('37e45396c9dbd607', 'hex').copy(head);
  head.writeUInt32LE(bytes.length, 8);
  head.set([4, shift], 12);
  let place = head.length;
  head.writeUInt32LE(place, 16);
  blocks.forEach((block, i) => {
    place += block.length;
    head.writeUInt32LE(place, 20 + 4 * i);
  });
  return Buffer.concat([head, ...blocks]);
}

test('whatever was packed comes back, in blocks of every size, and from its start up to any length', async () => {
  const parts = fc.array(
    fc.oneof(
      fc.uint8Array({ maxLength: 3000 }),
      fc.integer({ min: 1, max: 70_000 }).map((length) => new Uint8Array(length)),
    ),
    { maxLength: 5 },
  );
  await fc.assert(
    fc.asyncProperty(
      parts,
      fc.integer({ min: 15, max: 17 }),
      fc.nat(),
      async (list, shift, nat) => {
        const bytes = Buffer.concat(list);
        const source = memorySource(packed(bytes, shift));
        const wanted = nat % (bytes.length + 1);
        const all = await collect(unpackZisofs(source, bytes.length));
        const first = await collect(unpackZisofs(source, wanted));
        expect([
          Buffer.compare(all, bytes),
          Buffer.compare(first, bytes.subarray(0, wanted)),
        ]).toEqual([0, 0]);
      },
    ),
    { numRuns: 60 },
  );
});

test('tables without order or end cost no more than their blocks', async () => {
  const bytes = packed(new Uint8Array(300_000).fill(7), 15);
  const view = new DataView(bytes.buffer, bytes.byteOffset);
  view.setUint32(8, 0xffffffff, true);
  for (let i = 0; i < 8; i++) view.setUint32(16 + 4 * i, i % 2 === 0 ? 0 : 0xfffffff0, true);
  expect(await collect(unpackZisofs(memorySource(bytes), 0xffffffff))).toHaveLength(0);
});

test('a packed file that the image ends in is unpacked as far as it is there', async () => {
  const whole = await sound;
  const { offset } = whole.entry.extents[0]!;
  const third = new DataView(DISC.buffer, DISC.byteOffset + offset).getUint32(24, true);
  const found = await fileOf(DISC.subarray(0, offset + third + 10));
  expect(found.entry).toMatchObject({ bytes: 100_000, type: 'packed', damaged: true });
  expect(isWhole(found.entry)).toBe(false);
  expect(Buffer.compare(found.bytes, whole.bytes.subarray(0, 2 * BLOCK))).toBe(0);
  expect(found.kinds).not.toContain('packed-data-damaged');
});
