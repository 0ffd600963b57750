/** Inventories of objects: versions, what is stored once, and what is not believed. */
import {
  contentFiles,
  heldAs,
  inventoryIn,
  inventoryText,
  isSameState,
  newestFiles,
  nextInventory,
  versionOf,
  type StateFile,
} from './inventory';
import { LAYOUT_CONFIG, objectFolder } from './storage-layout';
import { sha256Hex } from '../../../tests/support/vectors';
import { createHash } from 'node:crypto';

const file = (path: string, text: string): StateFile => ({
  path,
  sha512: createHash('sha512').update(text).digest('hex'),
  sha256: createHash('sha256').update(text).digest('hex'),
});
const ABOUT = {
  created: new Date('2026-12-01T02:00:00Z'),
  message: 'as of entry 7',
  user: { name: 'Frail Spindle', address: 'urn:uuid:0' },
};
const first = () =>
  nextInventory(null, 'urn:uuid:0#medium-1', [file('a.img', 'A'), file('b.img', 'A')], ABOUT);

test('bytes that stand twice are stored once, under the first of their paths', () => {
  const { inventory, content } = first();
  const { sha512 } = file('', 'A');
  expect([...content]).toEqual([[sha512, 'v1/content/a.img']]);
  expect(inventory.manifest).toEqual({ [sha512]: ['v1/content/a.img'] });
  expect(inventory.versions.v1!.state).toEqual({ [sha512]: ['a.img', 'b.img'] });
  expect([inventory.head, versionOf(inventory)]).toEqual(['v1', 1]);
});

test('a further version stores what is new, and points to the rest', () => {
  const { inventory: before } = first();
  const files = [file('c.img', 'A'), file('d.txt', 'D')];
  expect(isSameState(before, [file('b.img', 'A'), file('a.img', 'A')])).toBe(true);
  expect(isSameState(before, files)).toBe(false);
  const { inventory, content } = nextInventory(before, before.id, files, ABOUT);
  expect([...content.values()]).toEqual(['v2/content/d.txt']);
  expect(inventory.versions.v1).toEqual(before.versions.v1);
  expect(
    newestFiles(inventory)
      .map(({ path, content: at }) => [path, at])
      .sort(),
  ).toEqual([
    ['c.img', 'v1/content/a.img'],
    ['d.txt', 'v2/content/d.txt'],
  ]);
  expect(
    contentFiles(inventory)
      .map(({ content: at }) => at)
      .sort(),
  ).toEqual(['v1/content/a.img', 'v2/content/d.txt']);
  expect(heldAs(inventory, file('', 'D').sha256)).toBe(file('', 'D').sha512);
  expect(heldAs(inventory, file('', 'E').sha256)).toBeNull();
});

test('what is written is what is read, and the same is written alike', () => {
  const { inventory } = first();
  const bytes = new TextEncoder().encode(inventoryText(inventory));
  expect(inventoryIn(bytes)).toEqual(inventory);
  expect(inventoryText(inventoryIn(bytes)!)).toBe(inventoryText(inventory));
});

test.each<[string, (inventory: Record<string, never>) => object]>([
  ['of another algorithm', (inventory) => ({ ...inventory, digestAlgorithm: 'md5' })],
  ['whose head is no version of it', (inventory) => ({ ...inventory, head: 'v3' })],
  [
    'whose path leads out',
    (inventory) => ({ ...inventory, manifest: { ['a'.repeat(128)]: ['../x'] } }),
  ],
  [
    'whose path is absolute',
    (inventory) => ({ ...inventory, manifest: { ['a'.repeat(128)]: ['/x'] } }),
  ],
  ['without an id', (inventory) => ({ ...inventory, id: '' })],
])('an inventory %s is not believed', (_, hurt) => {
  const inventory = JSON.parse(inventoryText(first().inventory)) as Record<string, never>;
  expect(inventoryIn(new TextEncoder().encode(JSON.stringify(hurt(inventory))))).toBeNull();
});

test('bytes that are no JSON are no inventory', () => {
  for (const text of ['', '{', 'null', '[]']) expect(inventoryIn(Buffer.from(text))).toBeNull();
  expect(inventoryIn(Uint8Array.from([0xff, 0xfe, 0]))).toBeNull();
});

test('an object lies where the extension’s own example has it (0004, with its defaults)', () => {
  const id = Buffer.from('object-01');
  expect(LAYOUT_CONFIG.digestAlgorithm).toBe('sha256');
  expect(objectFolder(sha256Hex(id))).toBe(
    '3c0/ff4/240/3c0ff4240c1e116dba14c7627f2319b58aa3d77606d0d90dfc6161608ac987d4',
  );
  expect(objectFolder(sha256Hex(Buffer.from('..hor/rib:le-$id')))).toBe(
    '487/326/d8c/487326d8c2a3c0b885e23da1469b4d6671fd4e76978924b4443e9e3c316cda6d',
  );
});
