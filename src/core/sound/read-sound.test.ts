/** Files of sound built byte by byte from their public descriptions. */
import fc from 'fast-check';
import { monoOf, valuesOf } from './pcm';
import { readSound } from './read-sound';
import { SoundRefusal, type SoundFile } from './sound-file';

const le16 = (...values: number[]) => values.flatMap((v) => [v & 0xff, (v >> 8) & 0xff]);
const le32 = (...values: number[]) => values.flatMap((v) => le16(v & 0xffff, v >>> 16));
const be16 = (...values: number[]) => values.flatMap((v) => [(v >> 8) & 0xff, v & 0xff]);
const be32 = (...values: number[]) => values.flatMap((v) => be16(v >>> 16, v & 0xffff));
const text = (word: string) => [...Buffer.from(word, 'latin1')];
const padded = (body: number[]) => (body.length % 2 ? [...body, 0] : body);

const riff = (...chunks: [string, number[]][]) => {
  const body = chunks.flatMap(([id, bytes]) => [
    ...text(id),
    ...le32(bytes.length),
    ...padded(bytes),
  ]);
  return Uint8Array.from([...text('RIFF'), ...le32(body.length + 4), ...text('WAVE'), ...body]);
};
const form = (kind: string, ...chunks: [string, number[]][]) => {
  const body = chunks.flatMap(([id, bytes]) => [
    ...text(id),
    ...be32(bytes.length),
    ...padded(bytes),
  ]);
  return Uint8Array.from([...text('FORM'), ...be32(body.length + 4), ...text(kind), ...body]);
};
const pcm = (channels: number, rate: number, bits: number, kind = 1): [string, number[]] => {
  const align = channels * Math.ceil(bits / 8);
  return ['fmt ', [...le16(kind, channels), ...le32(rate, rate * align), ...le16(align, bits)]];
};

const valuesIn = ({ data, coding }: SoundFile) => [...valuesOf(data, coding)];
const read = (bytes: Uint8Array) => readSound(bytes)!;
const refusal = (bytes: Uint8Array) => {
  try {
    read(bytes);
  } catch (error) {
    if (error instanceof SoundRefusal) return error.said.code;
    throw error;
  }
  return null;
};

describe('WAV', () => {
  test.each([
    [8, [0, 128, 255], [-1, 0, 127 / 128]],
    [16, le16(0x8000, 0, 0x7fff), [-1, 0, 32_767 / 32_768]],
    [24, [0, 0, 0x80, 0, 0, 0, 0xff, 0xff, 0x7f], [-1, 0, 1 - 2 ** -23]],
    [32, le32(0x80000000, 0), [-1, 0]],
    [12, le16(0x8000, 0x7ff0), [-1, 2047 / 2048]],
  ])('of %d bits', (bits, data, wanted) => {
    const sound = read(riff(pcm(1, 8000, bits), ['data', data]));
    expect([sound.rateHz, sound.bits, sound.frames]).toEqual([8000, bits, wanted.length]);
    expect(valuesIn(sound)).toEqual(wanted);
  });

  test('of floating point, with what is no number', () => {
    const data = new Uint8Array(new Float32Array([0.5, -1, NaN, Infinity]).buffer);
    const sound = read(riff(pcm(2, 44_100, 32, 3), ['data', [...data]]));
    expect([sound.channels, sound.frames, valuesIn(sound)]).toEqual([2, 2, [0.5, -1, 0, 0]]);
    expect([...monoOf(valuesOf(sound.data, sound.coding), 2)]).toEqual([-0.25, 0]);
  });

  test.each([
    ['A-law', 6, [0xaa, 0x2a, 0xd5], [32_256, -32_256, 8]],
    ['µ-law', 7, [0x80, 0x00, 0xff, 0x7f], [32_124, -32_124, 0, 0]],
  ])('of %s', (_, kind, data, wanted) => {
    const sound = read(riff(pcm(1, 8000, 8, kind), ['data', data]));
    expect(valuesIn(sound).map((value) => value * 32_768 || 0)).toEqual(wanted);
  });

  test('extensible, its data before its format, with loops and a pitch', () => {
    const guid = [...le16(1), 0, 0, 0, 0, 0x10, 0, 0x80, 0, 0, 0xaa, 0, 0x38, 0x9b, 0x71];
    const fmt = [
      ...le16(0xfffe, 1),
      ...le32(22_050, 44_100),
      ...le16(2, 16, 22, 12),
      ...le32(4),
      ...guid,
    ];
    const loop = (start: number, end: number) => le32(0, 0, start, end, 0, 0);
    const smpl = [...le32(0, 0, 45_351, 59, 0x80000000, 0, 0, 2, 0), ...loop(1, 2), ...loop(2, 9)];
    const sound = read(riff(['data', le16(1, 2, 3)], ['junk', [1]], ['fmt ', fmt], ['smpl', smpl]));
    expect([sound.bits, sound.frames, sound.soundsAt]).toEqual([12, 3, 5950]);
    expect(sound.loops).toEqual([{ startFrame: 1, endFrame: 3 }]);
    expect(sound.remarks.map(({ code }) => code)).toEqual(['sound.loopsLieNowhere']);
  });

  test('that was streamed or is cut gives what is there', () => {
    const whole = riff(pcm(1, 8000, 8), ['data', [1, 2, 3, 4]]);
    const at = whole.length - 8;
    for (const size of [0xffffffff, 0]) {
      const streamed = whole.slice();
      streamed.set(le32(size), at);
      const { frames, remarks } = read(streamed);
      expect([frames, remarks.map(({ code }) => code)]).toEqual([4, ['sound.lengthIsNotSaid']]);
    }
    const cut = read(whole.subarray(0, whole.length - 1));
    expect([cut.frames, cut.remarks.map(({ code }) => code)]).toEqual([3, ['sound.dataIsCut']]);
  });

  test.each([
    ['no format', riff(['data', [1, 2]]), 'sound.hasNoFormat'],
    ['no data', riff(pcm(1, 8000, 8)), 'sound.hasNoData'],
    ['no frame', riff(pcm(2, 8000, 16), ['data', [1, 2]]), 'sound.holdsNoFrame'],
    ['no channel', riff(pcm(0, 8000, 8), ['data', [1]]), 'sound.channelsOrRateAreNone'],
    ['another coding', riff(pcm(1, 8000, 4, 2), ['data', [1]]), 'sound.codingIsNotRead'],
  ])('with %s is refused', (_, bytes, code) => expect(refusal(bytes)).toBe(code));
});

describe('AIFF', () => {
  const rate = [0x40, 0x0e, 0xac, 0x44, 0, 0, 0, 0, 0, 0];
  const comm = (frames: number, bits: number, more: number[] = []): [string, number[]] => [
    'COMM',
    [...be16(1), ...be32(frames), ...be16(bits), ...rate, ...more],
  ];
  const ssnd = (data: number[], offset = 0): [string, number[]] => [
    'SSND',
    [...be32(offset, 0), ...Array<number>(offset).fill(9), ...data],
  ];

  test('with a loop between markers, and a pitch', () => {
    const mark = [...be16(2), ...be16(1), ...be32(1), 1, 65, ...be16(2), ...be32(3), 0, 0];
    const inst = [60, 50, 0, 127, 0, 127, ...be16(0, 1, 1, 2, 0, 0, 0)];
    const sound = read(
      form(
        'AIFF',
        comm(4, 16),
        ssnd(be16(0x8000, 0, 1, 0x4000), 3),
        ['MARK', mark],
        ['INST', inst],
      ),
    );
    expect([sound.rateHz, sound.frames, sound.soundsAt]).toEqual([44_100, 4, 5950]);
    expect(sound.loops).toEqual([{ startFrame: 1, endFrame: 3 }]);
    expect(valuesIn(sound)).toEqual([-1, 0, 1 / 32_768, 0.5]);
  });

  test.each([
    ['sowt', 16, [1, 0x40], 0x4001 / 32_768],
    ['raw ', 8, [192], 0.5],
    ['in24', 24, [0x40, 0, 0], 0.5],
    ['fl32', 32, [0x3f, 0, 0, 0], 0.5],
    ['ulaw', 8, [0x80], 32_124 / 32_768],
  ])('packed as %s', (kind, bits, data, wanted) => {
    const sound = read(form('AIFC', comm(1, bits, [...text(kind), 0, 0]), ssnd(data)));
    expect(valuesIn(sound)).toEqual([wanted]);
  });

  test.each([
    [
      'of a packing that is not read',
      form('AIFC', comm(1, 8, text('xyz4')), ssnd([1])),
      'sound.compressionIsNotRead',
    ],
    ['without data', form('AIFF', comm(1, 8)), 'sound.hasNoData'],
    [
      'whose data begin behind their end',
      form('AIFF', comm(1, 8), ['SSND', be32(900, 0)]),
      'sound.holdsNoFrame',
    ],
  ])('%s is refused', (_, bytes, code) => expect(refusal(bytes)).toBe(code));
});

describe('8SVX', () => {
  const vhdr = (oneShot: number, repeat: number, octaves = 1, packing = 0): [string, number[]] => [
    'VHDR',
    [...be32(oneShot, repeat, 0), ...be16(8363), octaves, packing, ...be32(0x10000)],
  ];

  test('once and repeated, the highest octave of two', () => {
    const sound = read(
      form('8SVX', vhdr(2, 2, 2), ['BODY', [1, 0xff, 3, 0x80, ...Array<number>(8).fill(0)]]),
    );
    expect([sound.rateHz, sound.frames, sound.loops]).toEqual([
      8363,
      4,
      [{ startFrame: 2, endFrame: 4 }],
    ]);
    expect(valuesIn(sound)).toEqual([1 / 128, -1 / 128, 3 / 128, -1]);
  });

  test('of both channels, one behind the other', () => {
    const sound = read(form('8SVX', vhdr(2, 0), ['CHAN', be32(6)], ['BODY', [1, 2, 3, 4]]));
    expect([sound.channels, [...sound.data]]).toEqual([2, [1, 3, 2, 4]]);
  });

  test('by differences', () => {
    const sound = read(form('8SVX', vhdr(4, 0, 1, 1), ['BODY', [0, 10, 0x9f, 0x08]]));
    expect([...sound.data]).toEqual([11, 32, 254, 254]);
  });

  test('of another packing is refused', () =>
    expect(refusal(form('8SVX', vhdr(1, 0, 1, 2), ['BODY', [1]]))).toBe(
      'sound.compressionIsNotRead',
    ));
});

describe('AU', () => {
  const au = (encoding: number, bytes: number, data: number[], offset = 24) =>
    Uint8Array.from([...text('.snd'), ...be32(offset, bytes, encoding, 8000, 1), ...data]);

  test.each([
    [1, [0x80], [32_124 / 32_768]],
    [2, [0x40], [0.5]],
    [3, [0xc0, 0, 0x40, 0], [-0.5, 0.5]],
    [6, [0x3f, 0, 0, 0], [0.5]],
    [27, [0x2a], [-32_256 / 32_768]],
  ])('of encoding %d, of a length that is not known', (encoding, data, wanted) =>
    expect(valuesIn(read(au(encoding, 0xffffffff, data)))).toEqual(wanted),
  );

  test('cut, of differences, or beginning behind its end', () => {
    expect(read(au(2, 9, [1, 2])).remarks.map(({ code }) => code)).toEqual(['sound.dataIsCut']);
    expect(refusal(au(23, 2, [1, 2]))).toBe('sound.compressionIsNotRead');
    expect(refusal(au(2, 2, [1, 2], 999))).toBe('sound.holdsNoFrame');
  });
});

test('what is no sound is none', () => {
  expect(readSound(Uint8Array.of())).toBeNull();
  expect(readSound(Uint8Array.from(text('RIFF....AVI ')))).toBeNull();
});

test('of any bytes behind a beginning a sound or a refusal comes', () => {
  const beginnings = [
    'RIFF\0\0\0\0WAVEfmt ',
    'FORM\0\0\0\0AIFFCOMM',
    'FORM\0\0\0\x008SVXVHDR',
    '.snd',
  ];
  fc.assert(
    fc.property(
      fc.constantFrom(...beginnings),
      fc.uint8Array({ maxLength: 200 }),
      (beginning, rest) => {
        const bytes = Uint8Array.from([...text(beginning), ...rest]);
        try {
          const sound = read(bytes);
          expect(sound.frames).toBeGreaterThan(0);
          expect(valuesOf(sound.data, sound.coding)).toHaveLength(sound.frames * sound.channels);
        } catch (error) {
          expect(error).toBeInstanceOf(SoundRefusal);
        }
      },
    ),
    { numRuns: 2000 },
  );
});
