/**
 * Requests that nobody should send: numbers too large for their column, letters that no database
 * keeps, bodies of the wrong kind, hosts and origins of others. What a route says that it misses is
 * given to it the next time, so that its work is reached.
 */
import type { Random } from '@/core/bits/random';

export const METHODS = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE', 'HEAD', 'OPTIONS'] as const;
type Method = (typeof METHODS)[number];

export interface FuzzedRequest {
  method: Method;
  params: Record<string, string>;
  query: string;
  headers: Record<string, string>;
  body: Uint8Array | null;
}

const LONG = 'A'.repeat(5000);

/** Texts, some of which mean something. */
const TEXTS = [
  '1',
  '2',
  '0',
  '-1',
  '1.5',
  '1e400',
  'NaN',
  '2147483648',
  '99999999999999999999',
  'SKP-0103',
  'skp-0104',
  'TST-9999',
  'image',
  'pdf',
  'true',
  '',
  ' ',
  '..',
  '../../etc/passwd',
  'con',
  '\0',
  'a\0b',
  '\ud800',
  'x\udfffy',
  '＝1+1',
  "'; drop table media; --",
  '%',
  '%00',
  '%_%',
  '\u202e',
  'é'.normalize('NFD'),
  '1987-02-30',
  '2026-11-28T10:00:00Z',
  LONG,
];

const VALUES: readonly unknown[] = [
  ...TEXTS,
  null,
  true,
  false,
  0,
  1,
  2,
  3,
  -1,
  1.5,
  2 ** 31,
  2 ** 53,
  1e308,
  [],
  [1],
  [1, 2, 3],
  ['SKP-0103'],
  [null],
  [[]],
  {},
  { id: 1 },
  { toString: 1 },
  Array.from({ length: 300 }, (_, i) => i),
];

const QUERY_KEYS = [
  'after',
  'as',
  'at',
  'code',
  'code',
  'copy',
  'edition',
  'from',
  'image',
  'in',
  'inside',
  'kind',
  'length',
  'limit',
  'line',
  'lot',
  'name',
  'offset',
  'page',
  'pattern',
  'q',
  'sort',
  'state',
  'to',
  'track',
  'words',
];

const HEADERS: readonly Record<string, string>[] = [
  {},
  {},
  {},
  { range: 'bytes=0-10' },
  { range: 'bytes=9-1' },
  { range: 'bytes=-5,abc' },
  { range: `bytes=${'9'.repeat(40)}-` },
  { 'if-none-match': '"', 'if-range': 'x' },
  { origin: 'null' },
  { origin: ':::' },
  { origin: 'http://elsewhere.example' },
  { host: 'elsewhere.example' },
  { cookie: 'spindle-operator=%E0%A4%A' },
  { cookie: 'spindle-operator=%00' },
  { cookie: '' },
  { 'content-type': 'multipart/form-data; boundary=x' },
  { 'content-length': '99999999999' },
  { 'tus-resumable': '1.0.0', 'upload-length': '-1', 'upload-metadata': 'filename %%%' },
  { 'tus-resumable': '1.0.0', 'upload-offset': '99999999999999999999' },
  { 'tus-resumable': '1.0.0', 'upload-length': '10', 'upload-metadata': 'filename AA==' },
];

const pick = <T>(random: Random, list: readonly T[]): T => list[random.below(list.length)]!;

function bodyOf(random: Random, wanted: readonly string[]): Uint8Array | null {
  const encode = (text: string) => new TextEncoder().encode(text);
  switch (random.below(12)) {
    case 0:
      return null;
    case 1:
      return encode('{"a":');
    case 2:
      return Uint8Array.of(0x22, 0xff, 0xfe, 0xc0, 0x22);
    case 3:
      return encode(JSON.stringify(pick(random, VALUES)));
    case 4:
      return encode(
        '--x\r\ncontent-disposition: form-data; name="file"; filename="a\0b"\r\n\r\nq\r\n',
      );
    case 5:
      return encode('['.repeat(20_000));
    default:
      return encode(
        JSON.stringify(Object.fromEntries(wanted.map((key) => [key, pick(random, VALUES)]))),
      );
  }
}

/** One more request of a route with these parameters; `wanted` are fields that it has asked for. */
export function fuzzed(
  random: Random,
  method: Method,
  parameters: readonly string[],
  wanted: readonly string[],
): FuzzedRequest {
  const query = new URLSearchParams();
  for (let i = random.below(4); i > 0; i--)
    query.set(pick(random, QUERY_KEYS), pick(random, TEXTS).slice(0, 2000));
  return {
    method,
    params: Object.fromEntries(
      parameters.map((name) => [name, random.below(2) === 0 ? '1' : pick(random, TEXTS)]),
    ),
    query: query.toString(),
    headers: { cookie: 'spindle-operator=Ada', ...pick(random, HEADERS) },
    body: method === 'GET' || method === 'HEAD' ? null : bodyOf(random, wanted),
  };
}
