/** Lists and tags of bags, by the examples and rules of RFC 8493. */
import { execFileSync } from 'node:child_process';
import {
  bagInfoIn,
  completenessOf,
  declarationIn,
  isUnsafePath,
  manifestIn,
  manifestNamed,
  oxumIn,
} from './bag-reading';
import { BAG_DECLARATION, bagInfo, manifestOf } from './bag';

const bytes = (text: string) => new TextEncoder().encode(text);

test('a bag declares its version and the encoding of its tags', () => {
  expect(declarationIn(bytes(BAG_DECLARATION))).toEqual({ version: '1.0', encoding: 'UTF-8' });
  const older = 'BagIt-Version: 0.97\r\nTag-File-Character-Encoding: ISO-8859-1\r\n';
  expect(declarationIn(bytes(older))).toEqual({ version: '0.97', encoding: 'ISO-8859-1' });
  for (const none of ['', 'BagIt-Version: 1.0\n', 'Tag-File-Character-Encoding: UTF-8\n'])
    expect(declarationIn(bytes(none))).toBeNull();
});

test('labels keep their order, come twice, and go on behind a break (2.2.2)', () => {
  const text =
    'Source-Organization: FOO University\nContact-Phone: +1 555-1212\n' +
    'External-Description: Uncompressed greyscale TIFFs of\n    Yoshimuri papers\n' +
    'Contact-Phone: +1 555-3434\nBagging-Date: 2008-01-15\n';
  expect(bagInfoIn(text)).toEqual([
    { label: 'Source-Organization', value: 'FOO University' },
    { label: 'Contact-Phone', value: '+1 555-1212' },
    {
      label: 'External-Description',
      value: 'Uncompressed greyscale TIFFs of Yoshimuri papers',
    },
    { label: 'Contact-Phone', value: '+1 555-3434' },
    { label: 'Bagging-Date', value: '2008-01-15' },
  ]);
  expect(bagInfoIn(bagInfo([['A', 'b: c']]))).toEqual([{ label: 'A', value: 'b: c' }]);
});

test('the algorithm stands in a list’s name', () => {
  expect(manifestNamed('manifest-sha512.txt')).toEqual({ algorithm: 'sha512', isOfTags: false });
  expect(manifestNamed('tagmanifest-md5.txt')).toEqual({ algorithm: 'md5', isOfTags: true });
  expect(manifestNamed('manifest-blake3.txt')).toBeNull();
  for (const other of ['manifest.txt', 'data/manifest-md5.txt', 'bag-info.txt'])
    expect(manifestNamed(other)).toBeUndefined();
});

const MD5 = { algorithm: 'md5', isOfTags: false } as const;
const pathsIn = (text: string) => [...manifestIn(text, MD5).manifest.digests.keys()];
const kindsIn = (text: string) => manifestIn(text, MD5).problems.map(({ kind }) => kind);
const digest = '49afbd86a1ca9f34b677a3f09655eae9';

test('paths are decoded, with one space or two, and with the mark of binary reading', () => {
  expect(pathsIn(`${digest} data/27613-h/images/q172.png\n`)).toEqual([
    'data/27613-h/images/q172.png',
  ]);
  expect(pathsIn(`${digest.toUpperCase()}  *data/two  spaces\r\n`)).toEqual(['data/two  spaces']);
  expect(pathsIn(`${digest}\t./data/100%25%0Aof it\n`)).toEqual(['data/100%\nof it']);
});

test('what the system’s own program lists is read as it is', () => {
  const listed = execFileSync('sha256sum', [__filename]).toString();
  const { manifest } = manifestIn(listed.replace(__filename, 'data/it'), {
    ...{ algorithm: 'sha256', isOfTags: false },
  });
  expect(manifest.digests.get('data/it')).toBe(listed.slice(0, 64));
});

test.each(['/etc/passwd', '../x', 'data/../../x', '~/x', 'C:\\x', 'data\\..\\..\\x', ''])(
  'a path that leads out of the bag is not followed: %s',
  (path) => {
    expect(isUnsafePath(path)).toBe(true);
    if (path) expect(kindsIn(`${digest} ${path}\n`)).toEqual(['unsafe-path']);
  },
);

test('a list that is no list, or has a path twice, is told', () => {
  expect(kindsIn('no digest here\n')).toEqual(['manifest-unread']);
  expect(kindsIn(`${digest} data/a\n${digest} data/a\n`)).toEqual(['listed-twice']);
});

test('what our own lists say is what is read of them, for names of any kind', () => {
  const names = ['a\nb', '100%', '%0A', 'ü/ñ', ' leading', 'a  b', '\u202eabc', '..a', 'a\rb'];
  const files = names.map((name) => ({
    ...{ path: `data/${name}`, bytes: 1, digests: { sha256: 'a'.repeat(64), sha512: 'b' } },
  }));
  const text = manifestOf(files, 'sha256');
  const read = manifestIn(text, { algorithm: 'sha256', isOfTags: false });
  expect(read.problems).toEqual([]);
  expect([...read.manifest.digests.keys()].sort()).toEqual(files.map(({ path }) => path).sort());
});

const listOf = (...paths: string[]) => ({
  ...MD5,
  digests: new Map(paths.map((path) => [path, digest])),
});
const problemsOf = (listed: string[], there: string[], info = '') =>
  completenessOf({
    ...{ version: '1.0', manifests: [listOf(...listed)], info: bagInfoIn(info) },
    files: new Map(there.map((path) => [path, 10])),
  }).map(({ kind, path }) => [kind, path]);

test('lists and files agree, or it is told where not', () => {
  expect(problemsOf(['data/a'], ['data/a', 'bagit.txt'])).toEqual([]);
  expect(problemsOf(['data/a', 'data/b'], ['data/a'])).toEqual([['missing', 'data/b']]);
  expect(problemsOf(['data/a'], ['data/a', 'data/b'])).toEqual([['unlisted', 'data/b']]);
  expect(problemsOf(['data/a'], ['data/a'], 'Payload-Oxum: 10.1')).toEqual([]);
  expect(problemsOf(['data/a'], ['data/a'], 'Payload-Oxum: 10.2')).toEqual([
    ['other-length', '10.2'],
  ]);
  expect(
    completenessOf({ version: '1.0', manifests: [], files: new Map(), info: [] }),
  ).toMatchObject([{ kind: 'no-manifest' }]);
});

test('a length of the payload that is none is not believed', () => {
  for (const odd of ['', '5', '5.x', `${'9'.repeat(20)}.1`])
    expect(oxumIn([{ label: 'Payload-Oxum', value: odd }])).toBeNull();
  expect(oxumIn([{ label: 'payload-oxum', value: '279164409832.1198' }])).toEqual({
    ...{ bytes: 279_164_409_832, files: 1198 },
  });
});

test.each([
  ['1.0', ['data/b']],
  ['0.97', []],
])('in version %s each list has to have all of it, or one of them', (version, unlisted) => {
  const files = new Map([
    ['data/a', 1],
    ['data/b', 1],
  ]);
  const manifests = [listOf('data/a', 'data/b'), listOf('data/a')];
  const problems = completenessOf({ version, manifests, files, info: [] });
  expect(problems).toEqual(unlisted.map((path) => ({ kind: 'unlisted', path })));
});
