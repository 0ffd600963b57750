/** Values of every order and sign brought to those of a WAV, held against their numbers. */
import fc from 'fast-check';
import { valuesOf, type PcmCoding } from '../pcm';
import { plainData } from './plain-data';

const codings = fc.record({
  kind: fc.constant('linear' as const),
  bytes: fc.constantFrom(1 as const, 2 as const, 3 as const, 4 as const),
  signed: fc.boolean(),
  bigEndian: fc.boolean(),
});

test('they are the same numbers', () =>
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 64 }), codings, (bytes, coding) => {
      const data = bytes.subarray(0, bytes.length - (bytes.length % coding.bytes));
      const before = Uint8Array.from(data);
      const plain = plainData({ data, coding });
      const wav = { ...coding, signed: coding.bytes > 1, bigEndian: false };
      expect([...valuesOf(plain, wav)]).toEqual([...valuesOf(data, coding)]);
      expect(data).toEqual(before);
    }),
  ));

test('what is no linear value stays as it lies', () => {
  const data = Uint8Array.of(1, 2, 3, 4);
  for (const coding of [
    { kind: 'a-law' },
    { kind: 'float', bytes: 4, bigEndian: true },
  ] satisfies PcmCoding[])
    expect(plainData({ data, coding })).toBe(data);
});

test.each([
  [2, true, true, [0x80, 0x01, 0x7f, 0xff], [0x01, 0x80, 0xff, 0x7f]],
  [2, false, false, [0x00, 0x80, 0xff, 0xff], [0x00, 0x00, 0xff, 0x7f]],
  [1, true, false, [0x80, 0x00, 0x7f], [0x00, 0x80, 0xff]],
  [3, true, true, [0x80, 0x00, 0x01], [0x01, 0x00, 0x80]],
] as const)('%d bytes, signed %p, most first %p', (bytes, signed, bigEndian, data, wanted) => {
  const coding: PcmCoding = { kind: 'linear', bytes, signed, bigEndian };
  expect([...plainData({ data: Uint8Array.from(data), coding })]).toEqual(wanted);
});
