/** What a file can be shown as, the likeliest first, and in which characters. */
import { SETS, USUAL, readFile } from '../file-reading';
import { doubtPlaces } from '../doubt-places';

const ascii = (text: string) => new TextEncoder().encode(text);
const PNG = Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 13);
const LETTER = ascii('Dear keeper,\r\nthe fog came in at four.\r\n');

test('a text is a text first, and bytes then', () => {
  const read = readFile(LETTER, 'fat12', null, USUAL);
  expect([read.ways, read.picture, read.drawn, read.trouble]).toEqual([
    ['text', 'bytes'],
    null,
    null,
    null,
  ]);
  expect(read.text).toBe('Dear keeper,\nthe fog came in at four.\n');
});

test('bytes are bytes first, whatever letters are among them', () => {
  const read = readFile(
    Uint8Array.from({ length: 400 }, (_, i) => (i * 37) & 0xff),
    'fat12',
    null,
    USUAL,
  );
  expect(read.ways).toEqual(['bytes', 'text']);
});

test('a picture that the browser draws is left to it', () => {
  const read = readFile(PNG, 'fat12', null, USUAL);
  expect([read.ways[0], read.drawn, read.picture]).toEqual(['picture', 'image/png', null]);
});

test('a program is listed by the tokens of its system', () => {
  // Ten of a line: next line, number 10, a token for PRINT, a string, the end.
  const program = Uint8Array.of(
    0x01,
    0x08,
    0x0d,
    0x08,
    0x0a,
    0x00,
    0x99,
    0x22,
    0x46,
    0x4f,
    0x47,
    0x22,
    0x00,
    0x00,
    0x00,
  );
  const read = readFile(program, 'd64', 'PRG', USUAL);
  expect(read.ways[0]).toBe('text');
  expect(read.text).toMatch(/^10 .*"fog"/i);
});

test('another set of characters is taken where it is chosen', () => {
  const bytes = Uint8Array.of(0x44, 0x81, 0x6e, 0x65);
  expect(readFile(bytes, 'fat12', null, { set: 'cp437', ends: 'any' }).text).toBe('Düne');
  expect(readFile(bytes, 'fat12', null, { set: 'cp1252', ends: 'any' }).text).not.toBe('Düne');
  expect(SETS[0]).toBe('usual');
});

test('ends of lines are those that are asked for', () => {
  const bytes = ascii('a\r\nb\rc');
  expect(readFile(bytes, 'fat12', null, { set: 'usual', ends: 'crlf' }).text).toBe('a\nb␍c');
  expect(readFile(bytes, 'fat12', null, { set: 'ascii', ends: 'cr' }).text).toBe('a\n␊b\nc');
});

test('nothing is nothing, and no error', () => {
  const read = readFile(new Uint8Array(), 'fat12', null, USUAL);
  expect(read.text).toBe('');
  expect(read.picture).toBeNull();
});

test('places of doubt are told in hexadecimal, six of them', () => {
  expect(doubtPlaces([])).toBeNull();
  expect(doubtPlaces([{ offset: 0x200, length: 512 }])).toContain('200h');
  const many = doubtPlaces(
    Array.from({ length: 9 }, (_, i) => ({ offset: i * 512, length: 512 })),
  )!;
  expect(many).toContain('9');
  expect(many).toContain('A00h');
  expect(many).not.toContain('C00h');
});
