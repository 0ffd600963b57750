/** Pictures written byte by byte from their public descriptions: packings, orders and modes. */
import type { Picture } from './canvas';
import { pictureOf } from './picture';

const le16 = (...values: number[]) =>
  values.flatMap((value) => [value & 0xff, (value >> 8) & 0xff]);
const le32 = (...values: number[]) =>
  values.flatMap((value) => [...le16(value & 0xffff), ...le16((value >> 16) & 0xffff)]);
const be16 = (...values: number[]) => values.flatMap((value) => [value >> 8, value & 0xff]);
const be32 = (...values: number[]) =>
  values.flatMap((value) => [...be16((value >>> 16) & 0xffff), ...be16(value & 0xffff)]);
const text = (word: string) => [...Buffer.from(word, 'latin1')];

const drawn = (bytes: readonly number[], filesystem = 'fat12', type?: string): Picture | null =>
  pictureOf(Uint8Array.from(bytes), filesystem, type);

/** Rows of pixels as hexadecimal colours; `--` of one that was never set. */
const rowsOf = ({ width, height, rgba }: Picture): string[] =>
  Array.from({ length: height }, (_, y) =>
    Array.from({ length: width }, (_column, x) => {
      const at = 4 * (y * width + x);
      if (rgba[at + 3] === 0) return '--';
      return Buffer.from(rgba.subarray(at, at + 3)).toString('hex');
    }).join(' '),
  );

/** As rows, with a letter a colour. */
const lettersOf = (picture: Picture, colours: Readonly<Record<string, string>>): string[] =>
  rowsOf(picture).map((row) =>
    row
      .split(' ')
      .map((colour) => colours[colour] ?? '?')
      .join(''),
  );

describe('device-independent bitmaps', () => {
  interface Header {
    width: number;
    height: number;
    bits: number;
    packing?: number;
    palette?: number[];
  }
  const bitmap = ({ width, height, bits, packing = 0, palette = [] }: Header, data: number[]) => [
    ...text('BM'),
    ...le32(0, 0, 54 + palette.length),
    ...le32(40, width, height),
    ...le16(1, bits),
    ...le32(packing, 0, 0, 0, 0, 0),
    ...palette,
    ...data,
  ];
  const PALETTE = [0, 0, 0, 0, 0, 0, 255, 0, 0, 255, 0, 0, 255, 0, 0, 0];
  const LETTERS = { '000000': '.', ff0000: 'r', '00ff00': 'g', '0000ff': 'b', '--': ' ' };

  test('rows stand from the bottom, or from the top where their number is negative', () => {
    const data = [0b1000_0000, 0, 0, 0, 0b0100_0000, 0, 0, 0];
    const palette = [0, 0, 0, 0, 0, 0, 255, 0];
    const [up, down] = [2, -2].map((height) =>
      lettersOf(drawn(bitmap({ width: 3, height, bits: 1, palette }, data))!, LETTERS),
    );
    expect(up).toEqual(['.r.', 'r..']);
    expect(down).toEqual(['r..', '.r.']);
  });

  test('24 and 32 bits are blue, green, red; rows end on whole words', () => {
    const three = drawn(bitmap({ width: 1, height: 2, bits: 24 }, [1, 2, 3, 0, 4, 5, 6, 0]))!;
    expect(rowsOf(three)).toEqual(['060504', '030201']);
    const four = drawn(bitmap({ width: 2, height: 1, bits: 32 }, [1, 2, 3, 9, 4, 5, 6, 9]))!;
    expect(rowsOf(four)).toEqual(['030201 060504']);
  });

  test('runs of 8 bits: counted, one by one with a pad, moved on, ended', () => {
    const palette = [...PALETTE, ...Array(256 * 4 - PALETTE.length).fill(0)];
    const data = [
      ...[2, 1, 1, 2, 0, 0],
      // Three one by one, and a byte to make them even.
      ...[0, 3, 3, 2, 1, 0, 0, 0],
      // Two on, and one up: what is passed over is never set.
      ...[1, 1, 0, 2, 2, 1, 1, 3, 0, 1],
    ];
    const picture = drawn(bitmap({ width: 4, height: 4, bits: 8, packing: 1, palette }, data))!;
    expect(lettersOf(picture, LETTERS)).toEqual(['   b', 'r   ', 'bgr ', 'rrg ']);
    expect(picture.cut).toBe(false);
  });

  test('runs of 4 bits take two colours in turn', () => {
    const palette = [...PALETTE, ...Array(16 * 4 - PALETTE.length).fill(0)];
    const data = [5, 0x12, 0, 0, 0, 5, 0x31, 0x23, 0x10, 0, 0, 1];
    const picture = drawn(bitmap({ width: 5, height: 2, bits: 4, packing: 2, palette }, data))!;
    expect(lettersOf(picture, LETTERS)).toEqual(['brgbr', 'rgrgr']);
  });

  test('runs that are not ended are cut; those past a row’s end set nothing', () => {
    const palette = [...PALETTE, ...Array(256 * 4 - PALETTE.length).fill(0)];
    const header = { width: 2, height: 1, bits: 8, packing: 1, palette };
    expect(drawn(bitmap(header, [2, 1]))!.cut).toBe(true);
    const long = drawn(bitmap(header, [255, 1, 0, 1]))!;
    expect([lettersOf(long, LETTERS), long.cut]).toEqual([['rr'], false]);
  });

  test.each([
    [{ width: 0, height: 1, bits: 8 }],
    [{ width: 1, height: 0, bits: 8 }],
    [{ width: 20_000, height: 1, bits: 1 }],
    [{ width: 1, height: 1, bits: 16 }],
    [{ width: 1, height: 1, bits: 4, packing: 1 }],
    [{ width: 1, height: 1, bits: 8, packing: 3 }],
  ])('%j is not drawn', (header) => {
    expect(drawn(bitmap(header, Array(2000).fill(0)))).toBeNull();
  });
});

describe('run-length paint files', () => {
  const paint = (
    { bits, planes, stride }: { bits: number; planes: number; stride: number },
    [width, height]: [number, number],
    body: readonly number[],
    colours: readonly number[] = [],
  ) => {
    const header = Array<number>(128).fill(0);
    header.splice(0, 4, 0x0a, 5, 1, bits);
    header.splice(4, 8, ...le16(0, 0, width - 1, height - 1));
    header.splice(16, colours.length, ...colours);
    header[65] = planes;
    header.splice(66, 2, ...le16(stride));
    return [...header, ...body];
  };
  const SIXTEEN = [0, 0, 0, 255, 0, 0, 0, 255, 0, 0, 0, 255];
  const LETTERS = { '000000': '.', ff0000: 'r', '00ff00': 'g', '0000ff': 'b' };

  test('two planes of a bit each, the first the lowest', () => {
    const body = [0b0101_0000, 0, 0b0011_0000, 0];
    const picture = drawn(paint({ bits: 1, planes: 2, stride: 2 }, [4, 1], body, SIXTEEN))!;
    expect(lettersOf(picture, LETTERS)).toEqual(['.rgb']);
  });

  test('two bits a pixel, and a run that ends in the row after its own', () => {
    const body = [0xc3, 0b00_01_10_11, 0b11_10_01_00];
    const picture = drawn(paint({ bits: 2, planes: 1, stride: 2 }, [4, 2], body, SIXTEEN))!;
    expect(lettersOf(picture, LETTERS)).toEqual(['.rgb', '.rgb']);
  });

  test('a byte of C0h and more must be counted to stand for itself', () => {
    const picture = drawn(paint({ bits: 8, planes: 1, stride: 2 }, [2, 1], [0xc1, 0xc5, 7]))!;
    // Without a table behind the rows 256 greys.
    expect(rowsOf(picture)).toEqual(['c5c5c5 070707']);
  });

  test('256 colours stand behind the rows', () => {
    const table = Array.from({ length: 768 }, (_, i) => (i % 3 === 1 ? Math.floor(i / 3) : 0));
    const body = [7, 9, 0x0c, ...table];
    expect(rowsOf(drawn(paint({ bits: 8, planes: 1, stride: 2 }, [2, 1], body))!)).toEqual([
      '000700 000900',
    ]);
  });

  test('rows that end early are cut, and kinds that never were are not drawn', () => {
    const kind = { bits: 8, planes: 1, stride: 2 };
    expect(drawn(paint(kind, [2, 3], [1, 2, 3]))!.cut).toBe(true);
    expect(drawn(paint({ ...kind, planes: 2 }, [2, 1], [1, 2, 3, 4]))).toBeNull();
    expect(drawn(paint({ ...kind, stride: 1 }, [2, 1], [1, 2, 3, 4]))).toBeNull();
  });
});

describe('interleaved bitmaps', () => {
  interface About {
    width: number;
    height: number;
    planes: number;
    mask?: number;
    packing?: number;
    aspect?: [number, number];
    mode?: number;
    colours?: number[];
  }
  const chunk = (name: string, body: readonly number[]) => [
    ...text(name),
    ...be32(body.length),
    ...body,
    ...(body.length % 2 ? [0] : []),
  ];
  const form = (
    { width, height, planes, mask = 0, packing = 0, aspect = [1, 1], mode, colours }: About,
    body: readonly number[],
  ) => {
    const header = [
      ...be16(width, height, 0, 0),
      ...[planes, mask, packing, 0],
      ...be16(0),
      ...aspect,
      ...be16(320, 200),
    ];
    const inner = [
      ...text('ILBM'),
      ...chunk('BMHD', header),
      ...(colours ? chunk('CMAP', colours) : []),
      ...(mode === undefined ? [] : chunk('CAMG', be32(mode))),
      ...chunk('BODY', body),
    ];
    return [...text('FORM'), ...be32(inner.length), ...inner];
  };
  /** A row of 16 pixels: what each plane has of them. */
  const plane = (bits: string) => be16(parseInt(bits.padEnd(16, '0'), 2));

  test('planes are put together, and a mask between them is passed over', () => {
    const colours = [0, 0, 0, 255, 0, 0, 0, 255, 0, 0, 0, 255];
    const body = [...plane('0101'), ...plane('0011'), ...plane('1111')];
    const picture = drawn(form({ width: 4, height: 1, planes: 2, mask: 1, colours }, body))!;
    expect(rowsOf(picture)).toEqual(['000000 ff0000 00ff00 0000ff']);
  });

  test('runs of bytes: as they are, of one many times, and the one that means nothing', () => {
    const about = { width: 32, height: 1, planes: 1, packing: 1, colours: [0, 0, 0, 9, 9, 9] };
    const packed = [0x01, 0xff, 0x00, 0x80, 0xff, 0xf0];
    const row = rowsOf(drawn(form(about, packed))!)[0]!.split(' ');
    const wanted = '11111111000000001111000011110000';
    expect(row.map((colour) => (colour === '090909' ? '1' : '0')).join('')).toBe(wanted);
  });

  test('without colours they are greys, and pixels have the shape that the header says', () => {
    const body = [...plane('0101'), ...plane('0011')];
    const picture = drawn(form({ width: 4, height: 1, planes: 2, aspect: [10, 20] }, body))!;
    expect(rowsOf(picture)).toEqual(['000000 555555 aaaaaa ffffff']);
    expect(picture.pixelAspect).toBe(0.5);
  });

  test('half-bright: the colours from 32 on are those before at half their light', () => {
    const colours = Array.from({ length: 96 }, (_, i) => (i < 6 ? [0, 0, 0, 200, 100, 50][i]! : 0));
    // Pixels of the colours 1 and 33.
    const body = [plane('11'), plane(''), plane(''), plane(''), plane(''), plane('01')].flat();
    const picture = drawn(form({ width: 2, height: 1, planes: 6, mode: 0x80, colours }, body))!;
    expect(rowsOf(picture)).toEqual(['c86432 643219']);
  });

  test('hold and modify: a colour, then its blue, its red and its green changed', () => {
    const colours = Array.from({ length: 48 }, (_, i) => (i >= 3 && i < 6 ? 0x11 : 0));
    // Indexes 01h, 1Fh, 2Fh and 3Ah.
    const indexes = [0x01, 0x1f, 0x2f, 0x3a];
    const planes = [0, 1, 2, 3, 4, 5].map((bit) =>
      plane(indexes.map((index) => (index >> bit) & 1).join('')),
    );
    const about = { width: 4, height: 1, planes: 6, mode: 0x800, colours };
    expect(rowsOf(drawn(form(about, planes.flat()))!)).toEqual(['111111 1111ff ff11ff ffaaff']);
  });

  test.each([
    [{ width: 4, height: 1, planes: 9 }],
    [{ width: 4, height: 1, planes: 0 }],
    [{ width: 0, height: 1, planes: 1 }],
    [{ width: 4, height: 1, planes: 1, packing: 2 }],
  ])('%j is not drawn', (about) => {
    expect(drawn(form(about, Array(100).fill(0)))).toBeNull();
  });

  test('a body that ends early is cut', () => {
    const about = { width: 16, height: 3, planes: 1, colours: [0, 0, 0, 9, 9, 9] };
    const picture = drawn(form(about, [...plane('1'), ...plane('1')]))!;
    expect(picture.cut).toBe(true);
    expect(rowsOf(picture).map((row) => row.startsWith('--'))).toEqual([false, false, true]);
  });
});

test('a screen of 320 × 200 has a pair of colours a cell, or the two it had by default', () => {
  const screen = (length: number, pair?: number) => {
    const bytes = Array<number>(length).fill(0);
    bytes.splice(0, 2, 0x00, 0x20);
    // The first line of the second cell: its left half.
    bytes[2 + 8] = 0xf0;
    if (pair !== undefined) bytes[8002 + 1] = pair;
    return rowsOf(drawn(bytes, 'd64', 'PRG')!)[0]!
      .split(' ')
      .slice(8, 16);
  };
  const half = (left: string, right: string) => [...Array(4).fill(left), ...Array(4).fill(right)];
  expect(screen(9002, 0x71)).toEqual(half('edf171', 'ffffff'));
  // Without colours white on black.
  expect(screen(8002)).toEqual(half('ffffff', '000000'));
  expect(drawn(Array(9002).fill(1), 'd64', 'PRG')).toBeNull();
  expect(drawn([0, 0x20, ...Array(9000).fill(0)], 'd64', 'SEQ')).toBeNull();
});
