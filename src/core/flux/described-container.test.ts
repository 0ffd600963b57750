/** A capture described anew: what was read stays byte for byte, the digest is of what there is now. */
import { createHash } from 'node:crypto';
import fc from 'fast-check';
import { nodeDigester } from '@/node/digester';
import { loadVector } from '../../../tests/support/vectors';
import { memorySource } from '../bits/byte-source';
import { readContainer } from './container-reader';
import { describedContainer, type Describing } from './described-container';

const capture = loadVector('flux/clean-mfm-35-9x512.fsflux');

async function described(bytes: Uint8Array, describing: Describing): Promise<Buffer | null> {
  const made = await describedContainer(memorySource(bytes), describing, nodeDigester);
  if (!made) return null;
  const parts: Uint8Array[] = [];
  for await (const part of made.stream()) parts.push(part);
  const all = Buffer.concat(parts);
  expect(all.length).toBe(made.size);
  return all;
}

/** What lies between header and trailer: it begins with a reading's first key. */
const readingsIn = (bytes: Uint8Array) => {
  const all = Buffer.from(bytes);
  return all.subarray(
    all.indexOf('cylinder\0', all.indexOf('heads')) - 2,
    all.lastIndexOf('tracks') - 2,
  );
};

test('of an independent capture the readings stay as they are, and the digest holds', async () => {
  const again = (await described(capture, {
    label: 'SKP-0103 Lamp rota',
    notes: 'dc:date: 1987',
  }))!;
  const found = readContainer(new Uint8Array(again), nodeDigester);
  const was = readContainer(capture, nodeDigester);
  expect(found).toMatchObject({ complete: true, problems: [], readings: was.readings });
  expect(found.header).toEqual({
    ...was.header,
    label: 'SKP-0103 Lamp rota',
    notes: 'dc:date: 1987',
  });
  expect(readingsIn(capture).length).toBeGreaterThan(capture.length - 400);
  expect(Buffer.compare(readingsIn(again), readingsIn(capture))).toBe(0);
  const before = again.subarray(0, again.lastIndexOf('tracks') - 2);
  expect(again.subarray(-32).toString('hex')).toBe(
    createHash('sha256').update(before).digest('hex'),
  );
});

test('whatever is said, what was read is the same', async () => {
  const was = readContainer(capture, nodeDigester);
  await fc.assert(
    fc.asyncProperty(
      fc.string({ unit: 'grapheme' }),
      fc.string({ maxLength: 2000 }),
      async (label, notes) => {
        const again = (await described(capture, { label, notes }))!;
        const { header, tracks, problems } = readContainer(new Uint8Array(again), nodeDigester);
        expect(problems).toEqual([]);
        expect(header).toMatchObject({ label: label.toWellFormed(), notes: notes.toWellFormed() });
        expect(tracks).toEqual(was.tracks);
      },
    ),
    { numRuns: 15 },
  );
});

test.each([
  ['cut before its trailer', capture.subarray(0, capture.length - 60)],
  ['cut in its trailer', capture.subarray(0, capture.length - 1)],
  ['cut in its header', capture.subarray(0, 20)],
  ['empty', new Uint8Array(0)],
  ['no capture', new TextEncoder().encode('A letter, and no capture at all.')],
  ['with bytes behind it', Buffer.concat([capture, Buffer.from([1, 2, 3])])],
])('one that is %s is not written anew', async (_, bytes) => {
  expect(await described(new Uint8Array(bytes), { label: 'x' })).toBeNull();
});
