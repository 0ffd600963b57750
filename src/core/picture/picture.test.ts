/**
 * Pictures made by an independent converter, and what it reads back from them; screens by their
 * published arrangement.
 */
import { loadVector, sha256Hex } from '../../../tests/support/vectors';
import { browserPicture } from './browser-picture';
import { pictureOf } from './picture';

const rgbOf = ({ rgba }: { rgba: Uint8ClampedArray }) =>
  Uint8Array.from(
    { length: (rgba.length / 4) * 3 },
    (_, i) => rgba[Math.floor(i / 3) * 4 + (i % 3)]!,
  );

// Digests of the 37 × 21 pixels as the converter reads each file back.
test.each([
  ['a1.bmp', 'fc8183a34cbf233e'],
  ['a4.bmp', 'a6f528cef4cb4007'],
  ['a8os.bmp', 'e859234f22b2a395'],
  ['a24.bmp', 'ebb056b176bfeea3'],
  ['b1.pcx', 'fc8183a34cbf233e'],
  ['b4.pcx', 'a6f528cef4cb4007'],
  ['b8.pcx', 'e859234f22b2a395'],
  ['b24.pcx', 'ebb056b176bfeea3'],
  ['c4.iff', 'a6f528cef4cb4007'],
  ['c4n.iff', 'a6f528cef4cb4007'],
  ['c24.iff', 'ebb056b176bfeea3'],
])('%s', (name, digest) => {
  const picture = pictureOf(loadVector(`pictures/${name}`), 'fat12', undefined)!;
  expect([picture.width, picture.height, picture.cut]).toEqual([37, 21, false]);
  expect(sha256Hex(rgbOf(picture)).slice(0, 16)).toBe(digest);
});

test('cham.iff', () => {
  // The converter gives a four-bit channel of 15 as 240, not as 255: the upper halves are compared.
  expect(
    sha256Hex(
      rgbOf(pictureOf(loadVector('pictures/cham.iff'), 'fat12', undefined)!).map(
        (byte) => byte & 0xf0,
      ),
    ).slice(0, 16),
  ).toBe('4110a866ed142dc3');
});

test('a picture that is cut short is shown as far as it goes, and says so', () => {
  for (const name of ['a24.bmp', 'b24.pcx', 'c4.iff']) {
    const whole = loadVector(`pictures/${name}`);
    const picture = pictureOf(
      whole.subarray(0, Math.floor(whole.length * 0.6)),
      'fat12',
      undefined,
    )!;
    expect(picture.cut).toBe(true);
    expect(
      picture.rgba.filter((_, i) => i % 4 === 3 && picture.rgba[i] === 255).length,
    ).toBeGreaterThan(100);
  }
});

test('bytes that lie about a picture are refused, and none takes long or much', () => {
  for (const name of ['a1.bmp', 'a4.bmp', 'b4.pcx', 'c4.iff']) {
    const whole = loadVector(`pictures/${name}`);
    for (let at = 0; at < Math.min(whole.length, 130); at++) {
      for (const value of [0, 0x7f, 0xff]) {
        const hurt = whole.slice();
        hurt[at] = value;
        const picture = pictureOf(hurt, 'fat12', undefined);
        if (picture) expect(picture.width * picture.height).toBeLessThanOrEqual(4096 * 4096);
      }
    }
  }
  expect(pictureOf(new Uint8Array(0), 'fat12', undefined)).toBeNull();
});

test('screens saved from memory', () => {
  const rows = new Uint8Array(8192);
  // Row 65 is the second of the second group of its third: 1 × 1024 + 0 × 128 + 1 × 40; its pixel 8
  // is the second byte's bit 1.
  rows[1024 + 40 + 1] = 0b10;
  const screen = pictureOf(rows, 'catalogue16', 'B')!;
  const lit = (picture: typeof screen) =>
    Array.from({ length: picture.width * picture.height }, (_, i) => i).filter(
      (i) => picture.rgba[i * 4] === 255,
    );
  expect([screen.width, screen.height, lit(screen)]).toEqual([280, 192, [65 * 280 + 8]]);
  expect(pictureOf(rows, 'catalogue16', 'T')).toBeNull();
  const dump = new Uint8Array(6154);
  dump[5 + 32 * 3 + 1] = 0x80;
  expect(lit(pictureOf(dump, 'granule', '2')!)).toEqual([3 * 256 + 8]);
  const cells = new Uint8Array(10_003);
  cells.set([0x00, 0x60]);
  // Cell 41 is the second of the second row of cells; its third line begins with pixel 4, in the
  // colour of its attribute's high half.
  cells[2 + 41 * 8 + 2] = 0b01_00_00_00;
  cells[8002 + 41] = 0x10;
  const wide = pictureOf(cells, 'd64', 'PRG')!;
  expect([wide.width, wide.pixelAspect, lit(wide)]).toEqual([160, 2, [10 * 160 + 4]]);
});

test('pictures that a browser draws are told by their first bytes', () => {
  expect([
    browserPicture(Uint8Array.of(0x47, 0x49, 0x46, 0x38, 0x39, 0x61)),
    browserPicture(Uint8Array.of(0xff, 0xd8, 0xff, 0xe0)),
    browserPicture(Uint8Array.of(1, 2, 3)),
  ]).toEqual(['image/gif', 'image/jpeg', null]);
});
