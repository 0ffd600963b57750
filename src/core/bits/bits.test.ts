/** Checks, codes and sources: against their published check values, and against plain arithmetic. */
import { encode } from 'cborg';
import fc from 'fast-check';
import { joinedSource, memorySource, piecewiseSource, readAll, sliceSource } from './byte-source';
import { CUT, MALFORMED, itemEnd, readMap } from './cbor';
import { CRC16_INITIAL, crc16 } from './crc16';
import { crc32, reflectedCrc32 } from './crc32';
import { hashText, seededRandom, sineOfTurn } from './random';
import { sameBytes } from './same-bytes';
import { encodeUleb128, writeUleb128Into } from './varint';

const ascii = (text: string) => new TextEncoder().encode(text);
const NINE = ascii('123456789');
const hex = (bytes: Uint8Array) => Buffer.from(bytes).toString('hex');
const of = (text: string) => Uint8Array.from(Buffer.from(text, 'hex'));

describe('checks', () => {
  test('the check values that are published for "123456789"', () => {
    expect(crc16(NINE)).toBe(0x29b1);
    expect(crc32(NINE)).toBe(0xcbf43926);
    expect(crc32(new Uint8Array())).toBe(0);
  });

  test('an ID field and a data mark as they stand on a disk', () => {
    // Three A1h and FEh are where every MFM ID field begins.
    expect(crc16(of('a1a1a1fe'))).toBe(0xb230);
    expect(crc16(of('a1a1a1fb'))).toBe(0xe295);
  });

  test('a field followed by its own check gives 0, however it is cut', () =>
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 600 }), fc.nat(600), (bytes, cut) => {
        const check = crc16(bytes);
        const whole = Uint8Array.of(...bytes, check >> 8, check & 0xff);
        const at = Math.min(cut, whole.length);
        expect(crc16(whole)).toBe(0);
        expect(crc16(whole, at, whole.length, crc16(whole, 0, at, CRC16_INITIAL))).toBe(0);
      }),
    ));

  test('sixteen bytes at a step are one at a step', () =>
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 200 }), fc.nat(200), (bytes, cut) => {
        const of32 = reflectedCrc32(0xd8018001);
        let bitwise = 0;
        for (const byte of bytes) {
          bitwise ^= byte;
          for (let bit = 0; bit < 8; bit++)
            bitwise = bitwise & 1 ? (bitwise >>> 1) ^ 0xd8018001 : bitwise >>> 1;
        }
        const at = Math.min(cut, bytes.length);
        expect(of32(bytes, 0, bytes.length)).toBe(bitwise >>> 0);
        expect(of32(bytes, at, bytes.length, of32(bytes, 0, at))).toBe(bitwise >>> 0);
      }),
    ));
});

describe('LEB128', () => {
  test.each([
    [0, '00'],
    [127, '7f'],
    [128, '8001'],
    [624_485, 'e58e26'],
    [2 ** 32, '8080808010'],
    [Number.MAX_SAFE_INTEGER, 'ffffffffffffff0f'],
  ])('%i is %s, as the standard writes it', (value, text) =>
    expect(hex(encodeUleb128([value]))).toBe(text),
  );

  test('any numbers come back', () =>
    fc.assert(
      fc.property(fc.array(fc.maxSafeNat()), (values) => {
        const bytes = encodeUleb128(values);
        const back: number[] = [];
        for (let at = 0; at < bytes.length;) {
          let value = 0n;
          for (let shift = 0n; ; shift += 7n) {
            const byte = bytes[at++]!;
            value |= BigInt(byte & 0x7f) << shift;
            if (byte < 0x80) break;
          }
          back.push(Number(value));
        }
        expect(back).toEqual(values);
      }),
    ));

  test('it is written where it is told, and says where it ends', () => {
    const out = new Uint8Array(12).fill(0xee);
    expect(writeUleb128Into(out, 3, 300)).toBe(5);
    expect(hex(out)).toBe('eeeeeeac02eeeeeeeeeeeeee');
  });
});

describe('ends of CBOR items', () => {
  const value = fc.jsonValue();

  test('an item ends where the library ended it, and is cut anywhere before', () =>
    fc.assert(
      fc.property(
        value,
        fc.uint8Array({ maxLength: 8 }),
        fc.double({ min: 0, max: 0.999, noNaN: true }),
        (json, tail, share) => {
          const item = encode(json);
          const bytes = Uint8Array.of(...item, ...tail);
          expect(itemEnd(bytes, 0, bytes.length)).toBe(item.length);
          expect(itemEnd(bytes, 0, Math.floor(item.length * share))).toBe(CUT);
        },
      ),
    ));

  test.each([
    ['9f0102ff', 4],
    ['bf616101ff', 5],
    ['5f4101ff', 4],
    ['c11a514b67b0', 6],
    ['f6', 1],
    ['fb400921fb54442d18', 9],
    ['fb400921fb54442d', CUT],
    ['ff', MALFORMED],
    ['1c', MALFORMED],
    ['1f', MALFORMED],
    ['82ff', MALFORMED],
    ['81'.repeat(40) + '00', MALFORMED],
    ['5bffffffffffffffff00', CUT],
    ['9bffffffffffffffff00', CUT],
    ['', CUT],
  ])('%s ends at %i', (text, end) => {
    const bytes = of(text);
    expect(itemEnd(bytes, 0, bytes.length)).toBe(end);
  });

  test('any bytes at all end somewhere, or nowhere, in bounded time', () =>
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 300 }), (bytes) => {
        const end = itemEnd(bytes, 0, bytes.length);
        expect(end === CUT || end === MALFORMED || (end > 0 && end <= bytes.length)).toBe(true);
        readMap(bytes, 0, bytes.length);
      }),
    ));

  test('a map is read as far as it goes, its byte strings as views', () => {
    const item = encode({ name: 'a', flux: Uint8Array.of(1, 2, 3), count: 3 });
    const whole = readMap(item, 0, item.length)!;
    expect([whole.cut, whole.end]).toEqual([false, item.length]);
    const kept = new Map<string, unknown>(whole.entries);
    expect(kept.get('name')).toBe('a');
    expect(hex(kept.get('flux') as Uint8Array)).toBe('010203');
    expect((kept.get('flux') as Uint8Array).buffer).toBe(item.buffer);
    // The byte string is the longest: cut in it, what is there of it is given.
    const inFlux = hex(item).indexOf('010203') / 2 + 2;
    const cut = readMap(item, 0, inFlux)!;
    expect(cut.cut).toBe(true);
    expect(hex(cut.entries.get('flux') as Uint8Array)).toBe('0102');
  });

  test.each(['a10102', '80', 'bfff', 'a1616182', ''])('%s is no map with names', (text) => {
    const map = readMap(of(text), 0, text.length / 2);
    expect(map === null || map.cut).toBe(true);
  });
});

describe('sources', () => {
  const BYTES = Uint8Array.from({ length: 1000 }, (_, i) => (i * 7) & 0xff);

  test('a slice, and pieces, read as the bytes themselves do', () =>
    fc.assert(
      fc.asyncProperty(
        fc.nat(1100),
        fc.nat(1100),
        fc.nat(1100),
        fc.nat(1100),
        fc.integer({ min: 1, max: 300 }),
        async (start, size, offset, length, unit) => {
          const plain = BYTES.subarray(start, start + size);
          const slice = sliceSource(memorySource(BYTES), start, size);
          expect(slice.size).toBe(plain.length);
          const wanted = hex(plain.subarray(offset, offset + length));
          expect(hex(await slice.read(offset, length))).toBe(wanted);
          const pieces = piecewiseSource(plain.length, unit, async (number) =>
            plain.subarray(number * unit, (number + 1) * unit),
          );
          expect(hex(await pieces.read(offset, length))).toBe(wanted);
        },
      ),
    ));

  test('sources one behind the other read as their bytes one behind the other', () =>
    fc.assert(
      fc.asyncProperty(
        fc.array(fc.uint8Array({ maxLength: 40 }), { maxLength: 6 }),
        fc.nat(260),
        fc.nat(260),
        async (parts, offset, length) => {
          const joined = joinedSource(parts.map(memorySource));
          const plain = Uint8Array.from(parts.flatMap((part) => [...part]));
          expect(joined.size).toBe(plain.length);
          expect(hex(await joined.read(offset, length))).toBe(
            hex(plain.subarray(offset, offset + length)),
          );
        },
      ),
    ));

  test('a part that gives less than it has to ends the read, and nothing moves up', async () => {
    const short = { size: 10, read: async () => of('0102') };
    const joined = joinedSource([memorySource(of('ff')), short, memorySource(of('aa'))]);
    expect(hex(await joined.read(0, 12))).toBe('ff0102');
  });

  test('a piece that is shorter than it has to be ends the read with an error', async () => {
    const source = piecewiseSource(
      100,
      10,
      async (number) => new Uint8Array(number === 3 ? 4 : 10),
    );
    await expect(source.read(0, 34)).resolves.toHaveLength(34);
    await expect(source.read(0, 100)).rejects.toThrow(RangeError);
  });

  test('a read that is negative is refused, and more than the limit is not held', async () => {
    const source = memorySource(BYTES);
    await expect(source.read(-1, 4)).rejects.toThrow(RangeError);
    await expect(source.read(0, -4)).rejects.toThrow(RangeError);
    await expect(readAll(source, 999)).rejects.toThrow(RangeError);
    await expect(readAll(source, 1000)).resolves.toHaveLength(1000);
  });
});

describe('made-up numbers', () => {
  test('a text hashes as FNV-1a does', () => {
    expect(hashText('')).toBe(0x811c9dc5);
    expect(hashText('a')).toBe(0xe40c292c);
    expect(hashText('foobar')).toBe(0xbf9cf968);
  });

  test('one seed gives one stream, another another', () => {
    const draw = (seed: string) => {
      const random = seededRandom(seed);
      return Array.from({ length: 20 }, () => random.below(1000));
    };
    expect(draw('disk')).toEqual(draw('disk'));
    expect(draw('disk')).not.toEqual(draw('other disk'));
    expect(draw('disk').every((value) => value >= 0 && value < 1000)).toBe(true);
  });

  test('the sine of a turn is the sine', () =>
    fc.assert(
      fc.property(fc.double({ min: -1000, max: 1000, noNaN: true }), (turns) =>
        expect(sineOfTurn(turns)).toBeCloseTo(Math.sin(2 * Math.PI * turns), 9),
      ),
    ));

  test('what is normal has mean 0 and deviation 1', () => {
    const random = seededRandom(7);
    const values = Array.from({ length: 40_000 }, () => random.normal());
    const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
    const variance = values.reduce((sum, value) => sum + (value - mean) ** 2, 0) / values.length;
    expect(Math.abs(mean)).toBeLessThan(0.02);
    expect(Math.abs(variance - 1)).toBeLessThan(0.03);
  });
});

test('bytes are alike by what they hold', () => {
  expect(sameBytes(of('0102'), of('0102'))).toBe(true);
  expect(sameBytes(of('0102'), of('0103'))).toBe(false);
  expect(sameBytes(of('0102'), of('010200'))).toBe(false);
  expect(sameBytes(new Uint8Array(), new Uint8Array())).toBe(true);
});
