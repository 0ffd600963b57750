/** Names from media made harmless, kept apart, and local times that name a moment or none. */
import fc from 'fast-check';
import { localTime } from '../local-time';
import { isSafeName, safeName } from '../safe-name';
import { UniqueNames } from '../unique-names';

const utf8 = (text: string) => new TextEncoder().encode(text).length;

test.each([
  ['LETTER.TXT', 'LETTER.TXT'],
  ['a/b\\c', 'a_b_c'],
  ['..', '__'],
  ['.', '_'],
  ['', '_'],
  ['CON', '_CON'],
  ['con.txt', '_con.txt'],
  ['COM1.LOG', '_COM1.LOG'],
  ['COM¹', '_COM¹'],
  ['CONSOLE', 'CONSOLE'],
  ['CLOCK$', '_CLOCK$'],
  ['name. ', 'name__'],
  ['a:b*c?d"e<f>g|h', 'a_b_c_d_e_f_g_h'],
  ['tab\there', 'tab_here'],
  ['del\u007f', 'del_'],
  ['right\u202eleft', 'right_left'],
  ['\ud800lone', '\ufffdlone'],
  ['.hidden', '.hidden'],
])('%j may stand as %j', (name, safe) => {
  expect(safeName(name)).toBe(safe);
  expect(isSafeName(name)).toBe(name === safe);
});

test('any name at all becomes one that is safe, short enough and left alone the second time', () =>
  fc.assert(
    fc.property(fc.string({ unit: 'binary', maxLength: 400 }), (name) => {
      const safe = safeName(name);
      expect(safe).not.toBe('');
      expect(safe).not.toMatch(/[/\\\u0000-\u001f]|^\.+$/);
      expect(utf8(safe)).toBeLessThanOrEqual(255);
      expect(safeName(safe)).toBe(safe);
    }),
  ));

test('a name that is too long keeps its extension', () => {
  const safe = safeName(`${'ü'.repeat(300)}.text`);
  expect(safe.endsWith('.text')).toBe(true);
  expect(utf8(safe)).toBeLessThanOrEqual(255);
  expect(utf8(safe)).toBeGreaterThan(250);
});

test('paths that would be one on some system are counted', () => {
  const names = new UniqueNames();
  expect(
    ['A.TXT', 'a.txt', 'A.TXT', 'B/A.TXT', '.profile', '.PROFILE', 'a/..', 'a/.', 'NO', 'no'].map(
      (path) => names.pathOf(path),
    ),
  ).toEqual([
    'A.TXT',
    'a (2).txt',
    'A (3).TXT',
    'B/A.TXT',
    '.profile',
    '.PROFILE (2)',
    'a/__',
    'a/_',
    'NO',
    'no (2)',
  ]);
});

test('no two paths of any set are alike, and none leaves its folder', () =>
  fc.assert(
    fc.property(
      fc.array(fc.string({ unit: fc.constantFrom('a', 'A', '.', '/', ' ', '(', '2', ')') })),
      (paths) => {
        const names = new UniqueNames();
        const given = paths.map((path) => names.pathOf(path));
        expect(new Set(given.map((path) => path.toLowerCase())).size).toBe(paths.length);
        for (const path of given)
          expect(path.split('/').some((part) => part === '..' || part === '.')).toBe(false);
      },
    ),
  ));

test.each([
  [[1988, 5, 1, 10, 11, 12], '1988-05-01T10:11:12'],
  [[1988, 2, 29], '1988-02-29T00:00:00'],
  [[1987, 2, 29], null],
  [[1900, 2, 29], null],
  [[2000, 2, 29], '2000-02-29T00:00:00'],
  [[1988, 0, 1], null],
  [[1988, 13, 1], null],
  [[1988, 4, 31], null],
  [[1988, 4, 0], null],
  [[1988, 5, 1, 24], null],
  [[1988, 5, 1, 0, 60], null],
  [[1988, 5, 1, 0, 0, 60], null],
] as const)('%j is %s', (parts, told) =>
  expect(localTime(...(parts as unknown as Parameters<typeof localTime>))).toBe(told),
);
