/**
 * Kinds of image: known by what is in them, put into one another's order, and refused where
 * something would be lost.
 */
import fc from 'fast-check';
import { loadVector } from '../../../tests/support/vectors';
import { bytesOf } from '../layout/layout';
import { shippedLayout } from '../layout/shipped';
import { convertImage } from './convert';
import { SIXTEEN_SECTOR_BYTES, turnedBytes } from '../volume/sixteen-sector-order';
import { imageCandidates, kindsOf, swapHeads, writeKind } from './kinds';

const first = (bytes: Uint8Array) => imageCandidates(bytes)[0]!;
const same = (a: Uint8Array, b: Uint8Array) => Buffer.compare(a, b) === 0;

test.each([
  ['prodos-280.po', 'po', 'gcr62-525-16x256'],
  ['prodos-280.do', 'do', 'gcr62-525-16x256'],
  ['catalogue16-plain.do', 'do', 'gcr62-525-16x256'],
  ['d64-plain.d64', 'd64', 'gcr45-525-35'],
  ['d71-plain.d71', 'd71', 'gcr45-525-35x2'],
  ['d81-plain.d81', 'd81', 'mfm-35-10x512'],
  ['prodos-1600.po', 'po', undefined],
  ['fat12-720k.img', 'img', 'mfm-35-9x512'],
])('%s is known as %s', (name, kind, layout) => {
  const candidates = imageCandidates(loadVector(`volumes/${name}`));
  expect(candidates).toHaveLength(1);
  expect(candidates[0]).toMatchObject({ kind });
  expect(candidates[0]!.layout?.id).toBe(layout);
});

test('the two orders of one volume, made by others, are each other', () => {
  const [po, logical] = [loadVector('volumes/prodos-280.po'), loadVector('volumes/prodos-280.do')];
  expect(same(writeKind(first(logical), 'po', false), po)).toBe(true);
  expect(same(writeKind(first(po), 'do', false), logical)).toBe(true);
});

test('changing the order and back gives the same bytes', () => {
  fc.assert(
    fc.property(fc.uint8Array({ minLength: 8192, maxLength: 8192 }), (bytes) => {
      expect(same(turnedBytes(turnedBytes(bytes)), bytes)).toBe(true);
      const layout = { ...shippedLayout('mfm-35-10x512')!, cylinders: 4 };
      expect(same(swapHeads(swapHeads(bytes, layout), layout), bytes)).toBe(true);
    }),
    { numRuns: 10 },
  );
});

test('what nothing in it tells apart is not guessed', () => {
  expect(imageCandidates(new Uint8Array(SIXTEEN_SECTOR_BYTES)).map(({ kind }) => kind)).toEqual([
    'do',
    'po',
  ]);
  expect(imageCandidates(new Uint8Array(819_200)).map(({ kind }) => kind)).toEqual([
    'd81',
    'img',
    'po',
  ]);
  expect(first(new Uint8Array(12_345))).toMatchObject({ kind: 'img', layout: null });
});

test.each([
  [174_848, 683],
  [196_608, 768],
  [349_696, 1366],
])('%i bytes with a status byte for each of %i sectors', (bytes, sectors) => {
  const file = new Uint8Array(bytes + sectors).fill(1, bytes);
  file[bytes + 5] = 5;
  const image = first(file);
  expect(image.status).toHaveLength(sectors);
  const { kind } = image;
  expect(same(writeKind(image, kind, true), file)).toBe(true);
  const plain = convertImage(image, kind, (each) => writeKind(each, kind, false), false);
  expect(plain).toMatchObject({ losses: [{ code: 'image.thatSayWhyA', with: { bad: 1 } }] });
  expect('bytes' in plain && plain.bytes).toHaveLength(bytes);
  expect(convertImage(image, kind, (each) => writeKind(each, kind, true), true)).toMatchObject({
    losses: [],
  });
});

test("a kind that can't hold these sectors is refused with those that can", () => {
  expect(
    convertImage(first(loadVector('volumes/fat12-720k.img')), 'd64', ({ bytes }) => bytes, false),
  ).toMatchObject({
    refusal: { code: 'image.cantBeWrittenAs', with: { possible: 'img, dsk' } },
  });
  expect(kindsOf(shippedLayout('gcr62-525-16x256')!)[0]).toBe('do');
});

test('the flat image of a 6-and-2 disk is in logical order', () => {
  const layout = shippedLayout('gcr62-525-16x256')!;
  expect(bytesOf(layout)).toBe(SIXTEEN_SECTOR_BYTES);
  // Formats page 1.5: physical sector to logical sector.
  const logical = [0, 7, 14, 6, 13, 5, 12, 4, 11, 3, 10, 2, 9, 1, 8, 15];
  expect(logical.map((place) => layout.imageSectors![place])).toEqual(
    logical.map((_, physical) => physical),
  );
});
