/**
 * Patterns found wherever they stand: over chunks, in files that lie in pieces, with bytes left
 * open; each against a search written out plainly.
 */
import fc from 'fast-check';
import { loadVector } from '../../../tests/support/vectors';
import { memorySource } from '../bits/byte-source';
import { identifyVolumes } from '../identify/identify';
import { Matcher, MAX_MATCHES } from './matcher';
import { SignatureRule, SignatureRules, patternBytes, searchPattern } from './rules';
import { scanImage } from './scan-image';
import { stringsOf } from './strings';

const rule = (pattern: string, where: 'boot' | 'anywhere' = 'anywhere', id = 'a') =>
  SignatureRule.parse({ id, name: id, where, pattern });

/** The same, place by place. */
function plainly(bytes: Uint8Array, pattern: Int16Array): number[] {
  const places: number[] = [];
  for (let at = 0; at + pattern.length <= bytes.length; at++)
    if (pattern.every((byte, i) => byte < 0 || byte === bytes[at + i])) places.push(at);
  return places;
}

test('every place is found, overlapping ones too, over the ends of chunks', async () => {
  const letters = fc.uint8Array({ minLength: 4, maxLength: 400, max: 3 });
  await fc.assert(
    fc.asyncProperty(
      letters,
      fc.array(
        fc
          .array(fc.constantFrom(0, 1, 2, -1), { minLength: 2, maxLength: 7 })
          .filter((pattern) => pattern.some((byte) => byte >= 0)),
        { minLength: 1, maxLength: 5 },
      ),
      async (bytes, patterns) => {
        const arrays = patterns.map((pattern) => Int16Array.from(pattern));
        const { matches } = await new Matcher(arrays).search(memorySource(bytes));
        for (const [i, pattern] of arrays.entries())
          expect(
            matches.filter((match) => match.pattern === i).map(({ offset }) => offset),
          ).toEqual(plainly(bytes, pattern));
      },
    ),
  );
  const long = new Uint8Array((1 << 20) + 64);
  const pattern = Int16Array.from([9, 8, -1, 7]);
  for (const at of [0, (1 << 20) - 2, (1 << 20) + 60]) long.set([9, 8, 5, 7], at);
  expect(
    (await new Matcher([pattern]).search(memorySource(long))).matches.map(({ offset }) => offset),
  ).toEqual([0, (1 << 20) - 2, (1 << 20) + 60]);
});

test('more matches than are listed are counted', async () => {
  const { matches, more } = await new Matcher([Int16Array.from([1, 1])]).search(
    memorySource(new Uint8Array(5000).fill(1)),
  );
  expect([matches.length, more]).toEqual([MAX_MATCHES, [{ pattern: 0, count: 4999 }]]);
});

test.each([
  ['41 42', 'has 4 to 4096 bytes'],
  ['41??42??43', 'two bytes side by side'],
  ['4142434', 'pairs of hexadecimal'],
  ['????????', 'two bytes side by side'],
  ['41'.repeat(4097), 'has 4 to 4096 bytes'],
])('the pattern %.12s is answered', (pattern, message) => {
  expect(
    SignatureRule.safeParse({ id: 'a', name: 'a', where: 'boot', pattern })
      .error?.issues.map((issue) => issue.message)
      .join(),
  ).toContain(message);
});

test('rules of one id twice, and keys that are not known, are refused', () => {
  const one = { id: 'a', name: 'a', where: 'boot', pattern: '41424344' };
  expect(SignatureRules.safeParse([one, one]).success).toBe(false);
  expect(SignatureRules.safeParse([{ ...one, colour: 'red' }]).success).toBe(false);
  expect([...patternBytes(rule('41 42 ?? 44').pattern)]).toEqual([0x41, 0x42, -1, 0x44]);
});

test('boot rules look at boot sectors only; a match in a file is told by its file, also where it lies in pieces', async () => {
  const image = loadVector('volumes/fat12-720k.img').slice();
  const {
    volumes: [found],
  } = await identifyVolumes(memorySource(image));
  const fragmented = found!.volume.entries.find(
    ({ extents, deleted }) => extents.length > 1 && !deleted,
  )!;
  const [first, second] = fragmented.extents as [
    { offset: number; length: number },
    { offset: number; length: number },
  ];
  // Across two pieces of the file: nowhere in the image as a whole.
  image.set([0xf0, 0x9a, 0x11], first.offset + first.length - 3);
  image.set([0x22, 0x33], second.offset);
  image.set([0xde, 0xad, 0x5e, 0xa1], 0x100);
  const rules = [
    rule('F09A112233', 'anywhere', 'split'),
    rule('DEAD5EA1', 'boot', 'boot'),
    rule('F09A1122', 'boot', 'elsewhere'),
  ];
  const { findings } = await scanImage(memorySource(image), rules);
  expect(findings.map(({ rule: id, path, offset }) => [id, path, offset])).toEqual([
    ['boot', null, 0x100],
    ['split', fragmented.path, first.length - 3],
  ]);
  image.set([0xf0, 0x9a, 0x11, 0x22, 0x33], first.offset + 10);
  expect(
    (await scanImage(memorySource(image), rules)).findings
      .filter(({ rule: id }) => id === 'split')
      .map(({ path, offset }) => [path, offset]),
  ).toEqual([
    [fragmented.path, 10],
    [fragmented.path, first.length - 3],
  ]);
});

test('bytes that two names share are told by both', async () => {
  const image = loadVector('volumes/fat12-720k.img').slice();
  const found = (await identifyVolumes(memorySource(image))).volumes[0]!;
  const [file, other] = found.volume.entries.filter(
    ({ kind, deleted, bytes }) => kind === 'file' && !deleted && bytes > 20,
  );
  const [first] = file!.extents;
  image.set([0xf0, 0x9a, 0x11, 0x22], first!.offset);
  // The other's entry says that it begins where the first does, and is as long.
  const entryOf = ({ path }: { path: string }) => {
    const [stem = '', extension = ''] = path.split('/').at(-1)!.split('.');
    return Buffer.from(image).indexOf(stem.padEnd(8) + extension.padEnd(3), 0, 'latin1');
  };
  image.copyWithin(entryOf(other!) + 26, entryOf(file!) + 26, entryOf(file!) + 32);
  const { findings } = await scanImage(memorySource(image), [rule('F09A1122')]);
  expect(findings.map(({ path, offset }) => [path, offset])).toEqual(
    found.volume.entries
      .filter((entry) => entry === file || entry === other)
      .map(({ path }) => [path, 0]),
  );
});

test('boot sectors of partitions are looked at too', async () => {
  const image = loadVector('volumes/mbr-small.img').slice();
  const { partitions } = await identifyVolumes(memorySource(image));
  image.set([0xde, 0xad, 0x5e, 0xa1], partitions[2]!.offset + 0x90);
  expect(
    (await scanImage(memorySource(image), [rule('DEAD5EA1', 'boot')])).findings.map(
      ({ offset }) => offset,
    ),
  ).toEqual([partitions[2]!.offset + 0x90]);
});

test('strings and what a person types to find', async () => {
  const bytes = new TextEncoder().encode('\0\0FOG SIGNAL\x01ab\x02horn of 1987\xff');
  expect((await stringsOf(memorySource(bytes), 4, 10)).strings).toEqual([
    { offset: 2, text: 'FOG SIGNAL' },
    { offset: 16, text: 'horn of 1987' },
  ]);
  expect(await stringsOf(memorySource(bytes), 4, 1)).toEqual({
    strings: [{ offset: 2, text: 'FOG SIGNAL' }],
    more: true,
  });
  expect([searchPattern('"horn"'), searchPattern('68 6F ?? 6e'), searchPattern('horn')]).toEqual([
    Int16Array.from([0x68, 0x6f, 0x72, 0x6e]),
    Int16Array.from([0x68, 0x6f, -1, 0x6e]),
    null,
  ]);
});
