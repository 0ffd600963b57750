/** Tag files of a bag, line by line, by the rules of RFC 8493. */
import * as fc from 'fast-check';
import { bagInfo, manifestOf, payloadOxum, type BagFile } from './bag';

const file = (path: string, bytes = 1): BagFile => ({
  ...{ path, bytes },
  digests: { sha256: 'a'.repeat(64), sha512: 'b'.repeat(128) },
});

test('a line each: digest, two spaces, the path with CR, LF and % encoded, in the order of paths', () => {
  const files = [file('data/b'), file('data/a%0A\r\nx'), file('data/a b')];
  expect(manifestOf(files, 'sha256')).toBe(
    ['data/a b', 'data/a%250A%0D%0Ax', 'data/b']
      .map((path) => `${'a'.repeat(64)}  ${path}\n`)
      .join(''),
  );
  expect(manifestOf([file('data/b')], 'sha512')).toBe(`${'b'.repeat(128)}  data/b\n`);
  expect(manifestOf([], 'sha256')).toBe('');
});

test('whatever a path is, its line is one line and leads back to it', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'binary', minLength: 1 }), (path) => {
      const text = manifestOf([file(path)], 'sha256');
      expect(text.split(/[\r\n]/)).toHaveLength(2);
      const encoded = text.slice(66, -1);
      const back = encoded.replace(/%(25|0D|0A)/g, (_, code: string) =>
        String.fromCharCode(parseInt(code, 16)),
      );
      expect(back).toBe(path);
    }),
  );
});

test('what is told has one line each, and what says nothing has none', () => {
  expect(
    bagInfo([
      ['External-Description', ' two\r\nlines\u2028and a \0 '],
      ['Recipient', ''],
      ['Payload-Oxum', '12.3'],
    ]),
  ).toBe('External-Description: two lines and a\nPayload-Oxum: 12.3\n');
});

test('octets and streams of the payload', () => {
  expect(payloadOxum([file('a', 5_000_000_000), file('b', 7)])).toBe('5000000007.2');
});
