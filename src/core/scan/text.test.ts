import { looksLikeText, textOf } from './text';

const ascii = (text: string) => new TextEncoder().encode(text);

test('text is told from what is none', () => {
  expect([
    looksLikeText(ascii('Fog at noon.\r\nHorn sounded.\r\n')),
    looksLikeText(Uint8Array.from({ length: 400 }, (_, i) => i & 255)),
    looksLikeText(new Uint8Array(0)),
  ]).toEqual([true, false, true]);
  expect(
    textOf(
      Uint8Array.from({ length: 400 }, (_, i) => i & 255),
      'fat12',
    ),
  ).toBeNull();
});

test('line ends, end marks and character sets of each family', () => {
  expect(textOf(ascii('one\r\ntwo\rthree\x1aleft over'), 'cpm')).toBe('one\ntwo\nthree');
  expect(textOf(Uint8Array.from([...ascii('CAF'), 0x90, 0x0d]), 'fat12')).toBe('CAFÉ\n');
  expect(
    textOf(
      ascii('TIDE TABLE\r').map((byte) => byte | 0x80),
      'catalogue16',
    ),
  ).toBe('TIDE TABLE\n');
  expect(textOf(Uint8Array.from([0xc6, 0x4f, 0x47, 0x0d, 0x5c]), 'd64')).toBe('fOG\n£');
});
