/** Fields of records: read and put as `DataView` does, wherever the record begins. */
import fc from 'fast-check';
import { fatTime, timeBytes } from '../fat/records';
import {
  bytesIn,
  numberIn,
  putNumber,
  raw,
  s8,
  shifted,
  u16,
  u16be,
  u24,
  u32,
  u8,
  type RecordLayout,
} from '../record';

const view = (bytes: Uint8Array) => new DataView(bytes.buffer, bytes.byteOffset);
const KINDS = [
  ['u8', u8, 1, (bytes: Uint8Array, at: number) => view(bytes).getUint8(at)],
  ['u16', u16, 2, (bytes: Uint8Array, at: number) => view(bytes).getUint16(at, true)],
  ['u16be', u16be, 2, (bytes: Uint8Array, at: number) => view(bytes).getUint16(at, false)],
  [
    'u24',
    u24,
    3,
    (bytes: Uint8Array, at: number) =>
      view(bytes).getUint16(at, true) + 65536 * view(bytes).getUint8(at + 2),
  ],
  ['u32', u32, 4, (bytes: Uint8Array, at: number) => view(bytes).getUint32(at, true)],
] as const;

test.each(KINDS)(
  '%s is read as it stands, and put so that it is read again',
  (_, make, length, plain) =>
    fc.assert(
      fc.property(
        fc.uint8Array({ minLength: 64, maxLength: 64 }),
        fc.nat(28),
        fc.nat(28),
        fc.nat(2 ** 32 - 1),
        (bytes, at, from, value) => {
          const field = make(at);
          expect(field.length).toBe(length);
          expect(numberIn(bytes, field, from)).toBe(plain(bytes, from + at));
          const before = bytes.slice();
          const put = value % 256 ** length;
          putNumber(bytes, field, put, from);
          expect(numberIn(bytes, field, from)).toBe(put);
          // Nothing beside the field has changed.
          before.set(bytes.subarray(from + at, from + at + length), from + at);
          expect(bytes).toEqual(before);
        },
      ),
    ),
);

test('what is cut off counts as zero, and never fails', () => {
  expect(numberIn(Uint8Array.of(0x34), u16(0))).toBe(0x34);
  expect(numberIn(Uint8Array.of(0x34), u16be(0))).toBe(0x3400);
  expect(numberIn(new Uint8Array(), u32(100), 7)).toBe(0);
  expect(bytesIn(Uint8Array.of(1, 2, 3), raw(1, 8))).toEqual(Uint8Array.of(2, 3));
});

test('a record behind something else has all its fields further on', () => {
  const layout = { firstCluster: u16(26), bytes: u32(28), name: s8(0) } as unknown as RecordLayout;
  expect(
    Object.fromEntries(Object.entries(shifted(layout, 4)).map(([name, { at }]) => [name, at])),
  ).toEqual({ firstCluster: 30, bytes: 32, name: 4 });
  expect(layout.bytes!.at).toBe(28);
});

// ECMA-107, clause 11.7: seven bits of years from 1980, four of months, five of days; five, six
// and five bits of hours, minutes and pairs of seconds.
test.each([
  [0x0021, 0x0000, '1980-01-01T00:00:00'],
  [0x10a1, 0x5166, '1988-05-01T10:11:12'],
  [0xff9f, 0xbf7d, '2107-12-31T23:59:58'],
  [0x0000, 0x0000, null],
  [0x0041, 0x0000, '1980-02-01T00:00:00'],
  [0x005e, 0x0000, null],
  [0x0021, 0xc000, null],
  [0x0021, 0x07a0, null],
  [0x0021, 0x001e, null],
] as const)('date %i and time %i name %s', (date, time, told) => {
  expect(fatTime(date, time)).toBe(told);
  if (told) expect([...timeBytes(told)]).toEqual([time & 0xff, time >> 8, date & 0xff, date >> 8]);
});

test.each([null, '', '1979-12-31T23:59:59', '2108-01-01T00:00:00', 'yesterday'])(
  '%s is put as no time',
  (local) => expect([...timeBytes(local)]).toEqual([0, 0, 0, 0]),
);

test('seconds are kept in pairs', () =>
  expect(timeBytes('1988-05-01T10:11:13')).toEqual(timeBytes('1988-05-01T10:11:12')));
