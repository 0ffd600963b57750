import { CHARACTER_SETS, decodeText, usualSet } from './character-sets';

const bytes = (...values: number[]) => Uint8Array.from(values);

// Expected characters by the published tables of each set.
test.each([
  ['cp437', [0x8e, 0x99, 0x9a, 0xe1, 0xf8], 'ÄÖÜß°'],
  ['cp850', [0x9b, 0x9d, 0xd5, 0xf5], 'øØı§'],
  ['cp852', [0x88, 0x9d, 0xd8, 0xe7], 'łŁěš'],
  ['cp865', [0x9b, 0x9d, 0x9e, 0xaf], 'øØ₧¤'],
  ['cp866', [0x92, 0xe3, 0xac, 0xa0, 0xad], 'Туман'],
  ['cp1252', [0x80, 0xfc], '€ü'],
  ['koi8-r', [0xf4, 0xd5, 0xcd, 0xc1, 0xce], 'Туман'],
  ['utf-8', [0xc3, 0xa6], 'æ'],
  ['utf-16le', [0x46, 0, 0xe6, 0], 'Fæ'],
  ['iso646-de', [0x5b, 0x5c, 0x5d, 0x7b, 0x7c, 0x7d, 0x7e, 0x40], 'ÄÖÜäöüß§'],
  ['iso646-no', [0x5b, 0x5c, 0x5d, 0x7b, 0x7c, 0x7d], 'ÆØÅæøå'],
  ['iso646-se', [0x24, 0x40, 0x5d], '¤ÉÅ'],
  ['iso646-fr', [0x40, 0x7b, 0x7d], 'àéè'],
  ['iso646-gb', [0x23], '£'],
  ['ascii', [0xc6, 0xcf, 0xc7], 'FOG'],
  ['d64-graphics', [0x46, 0x4f, 0xc7, 0x5c], 'FOg£'],
  ['d64-cases', [0xc6, 0x4f, 0x47, 0x5f], 'Fog←'],
] as const)('%s', (set, from, to) => expect(decodeText(bytes(...from), set, 'any')).toBe(to));

test('ends of lines: any kind, or the one asked for, and what is not asked for is shown', () => {
  const text = bytes(0x61, 0x0d, 0x0a, 0x62, 0x0d, 0x63, 0x0a, 0x64);
  expect(decodeText(text, 'ascii', 'any')).toBe('a\nb\nc\nd');
  expect(decodeText(text, 'ascii', 'crlf')).toBe('a\nb␍c␊d');
  expect(decodeText(text, 'ascii', 'cr')).toBe('a\n␊b\nc␊d');
  expect(decodeText(text, 'ascii', 'none')).toBe('a␍␊b␍c␊d');
  expect(decodeText(bytes(0xc1, 0x0d, 0x42), usualSet('d64'), 'cr')).toBe('a\nB');
});

test('every set takes every byte, and no control character is left to act', () => {
  const all = Uint8Array.from({ length: 512 }, (_, i) => i & 0xff);
  for (const set of CHARACTER_SETS)
    expect(decodeText(all, set, 'any')).not.toMatch(
      /[\u0000-\u0008\u000b-\u001f\u007f-\u009f\u202a-\u202e]/,
    );
});
