/** Bytes as sound by what is said of them: each depth, sign and order against values written out. */
import * as fc from 'fast-check';
import { strictWav } from '../../../tests/support/sound/strict-wav';
import { valuesOf } from './pcm';
import { FIRST_SETTINGS, RAW_VALUES, RawSettings, rawValues, rawWav } from './raw-sound';

const of = (bytes: number[], settings: Partial<RawSettings>) => [
  ...rawValues(Uint8Array.from(bytes), { ...FIRST_SETTINGS, ...settings }),
];

test.each<[string, number[], Partial<RawSettings>, number[]]>([
  ['8 bits about the middle', [0x80, 0x00, 0xff, 0xc0], {}, [0, -1, 127 / 128, 0.5]],
  ['8 bits about zero', [0x00, 0x80, 0x7f, 0x40], { isSigned: true }, [0, -1, 127 / 128, 0.5]],
  ['16 bits, least first', [0x00, 0x40, 0x00, 0x80], { values: '16', isSigned: true }, [0.5, -1]],
  [
    '16 bits, greatest first',
    [0x40, 0x00, 0x80, 0x00],
    { values: '16', isSigned: true, isBigEndian: true },
    [0.5, -1],
  ],
  ['16 bits about the middle', [0x00, 0x80, 0x00, 0x00], { values: '16' }, [0, -1]],
  [
    '24 bits, greatest first',
    [0x40, 0x00, 0x00, 0xc0, 0x00, 0x00],
    { values: '24', isSigned: true, isBigEndian: true },
    [0.5, -0.5],
  ],
  ['32 bits', [0, 0, 0, 0x20], { values: '32', isSigned: true }, [0.25]],
  // 400h and 800h: the first byte is the lower eight of the first value.
  [
    '12 bits packed, least first',
    [0x00, 0x04, 0x80],
    { values: '12-packed', isSigned: true },
    [0.5, -1],
  ],
  [
    '12 bits packed, greatest first',
    [0x40, 0x08, 0x00],
    { values: '12-packed', isSigned: true, isBigEndian: true },
    [0.5, -1],
  ],
  ['12 bits packed about the middle', [0x00, 0x08, 0xc0], { values: '12-packed' }, [0, 0.5]],
  ['the greatest of µ-law', [0x80, 0x00], { values: 'u-law' }, [32_124 / 32_768, -32_124 / 32_768]],
  ['behind what is left out', [1, 2, 3, 0x80], { skip: 3 }, [0]],
  ['more left out than there is', [1, 2], { skip: 9 }, []],
  ['a rest of a value', [0x00, 0x40, 0x11], { values: '16', isSigned: true }, [0.5]],
  ['a rest of a frame', [0x80, 0x80, 0x80], { channels: 2 }, [0, 0]],
])('%s', (_, bytes, settings, wanted) => {
  expect(of(bytes, settings)).toEqual(wanted);
});

test('as a WAV it is the same sound, whatever the bytes are', () => {
  const settings = fc.record({
    values: fc.constantFrom(...RAW_VALUES),
    isSigned: fc.boolean(),
    isBigEndian: fc.boolean(),
    channels: fc.constantFrom(1 as const, 2 as const),
    rateHz: fc.constantFrom(500, 8363, 44_100),
    skip: fc.nat({ max: 5 }),
  });
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 60 }), settings, (bytes, own) => {
      const before = bytes.slice();
      const wav = strictWav(Buffer.from(rawWav(bytes, own)));
      expect([wav.channels, wav.rateHz]).toEqual([own.channels, own.rateHz]);
      const width = (wav.bits / 8) as 1 | 2 | 3 | 4;
      const coding = { kind: 'linear', bytes: width, signed: width > 1, bigEndian: false } as const;
      expect([...valuesOf(wav.data, coding)]).toEqual([...rawValues(bytes, own)]);
      expect(bytes).toEqual(before);
    }),
  );
});

test('what can be no setting is refused', () => {
  for (const wrong of [{ rateHz: 0 }, { channels: 3 }, { values: '7' }, { skip: -1 }, { more: 1 }])
    expect(RawSettings.safeParse({ ...FIRST_SETTINGS, ...wrong }).success).toBe(false);
  expect(RawSettings.parse(FIRST_SETTINGS)).toEqual(FIRST_SETTINGS);
});
